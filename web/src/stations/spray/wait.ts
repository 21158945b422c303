// How a zone's wait stands at an instant: the times are core's, the page only counts on between two answers.
import type { Schemas } from "../../api/client";
import { stopwatch } from "../../ui/clock";

export type ZoneWait = {
  /** Of the way to the earliest, 0 to 1. */
  share: number;
  /** From the earliest to the latest, 0 to 1; none where the sheet names no latest. */
  toLost: number | null;
  tone: "wait" | "go" | "lost" | "none";
  word: string;
  /** Seconds until it may be gone over; none once it may. */
  toGo: number | null;
  /** Seconds since the last pass. */
  since: number;
};

export function waitNow(wait: Schemas["WaitSeen"], now: number): ZoneWait {
  const s = (at: string) => (now - new Date(at).getTime()) / 1000;
  const since = s(wait.since);
  const before = wait.earliest ? -s(wait.earliest) : 0;
  const whole = since + before;
  const left = wait.latest ? -s(wait.latest) : null;
  const toLook = wait.look && !wait.looked;
  const share = before > 0 ? Math.min(1, Math.max(0, since / whole)) : 1;
  const open = left === null ? null : left + Math.max(0, -before);
  const toLost =
    left === null || before > 0 ? null : Math.min(1, Math.max(0, 1 - left / Math.max(1, open ?? 1)));
  if (left !== null && left < 0)
    return { share, toLost: 1, tone: "lost", word: "edge lost", toGo: null, since };
  if (before > 0)
    return {
      share,
      toLost,
      tone: "wait",
      word: `${stopwatch(Math.ceil(before))} to go${toLook ? ", then look" : ""}`,
      toGo: before,
      since,
    };
  if (toLook) return { share, toLost, tone: "wait", word: `look: ${wait.look_word}`, toGo: null, since };
  // What the sheet does not state is no leave to go on.
  if (!wait.earliest && !wait.look && left === null)
    return { share: 0, toLost, tone: "none", word: "the sheet states no wait", toGo: null, since };
  const lost = left === null ? "" : `, edge lost in ${stopwatch(left)}`;
  return { share, toLost, tone: "go", word: `may be coated${lost}`, toGo: null, since };
}
