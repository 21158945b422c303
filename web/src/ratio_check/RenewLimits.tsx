// Control limits are frozen from the first eight catches of a regime; a hand that knows why takes them anew from the last eight.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { at } from "../api/entry";
import { useRigBook } from "../rigs/useRigBook";
import { AskReason } from "../ui/AskReason";

export function RenewLimits({
  rig,
  sheet,
  chart,
}: {
  rig: string;
  sheet: string;
  chart: Schemas["Chart"] | null;
}) {
  const [asking, setAsking] = useState(false);
  const { say, busy, refused } = useRigBook(rig);
  const limits = chart?.regimes[chart.regimes.length - 1]?.lo;
  if (typeof limits !== "number") return null;
  return (
    <>
      <button
        type="button"
        className="link"
        name="renew-limits"
        aria-haspopup="dialog"
        onClick={() => setAsking(true)}
      >
        Take the limits anew
      </button>
      {asking && (
        <AskReason
          title="Take the control limits anew"
          text="They come from the last eight catches from now on. The tolerance stays as the sheet says."
          action="Take them anew"
          hint="what has run in, or what was changed"
          busy={busy}
          error={at("reason", refused?.fields) ?? (refused && !refused.field ? refused.detail : undefined)}
          submit={(reason) =>
            void say("limits_renewed", { sheet, reason }).then((ok) => ok && setAsking(false))
          }
          close={() => setAsking(false)}
        />
      )}
    </>
  );
}
