// Every zone: a ring for its wait, passes done of planned, and its wet film as a small level. A tap makes it the one that is stamped.
import type { Schemas } from "../../api/client";
import { Level } from "../../ui/Level";
import { stopwatch } from "../../ui/clock";
import { Ring } from "./Ring";
import { waitNow } from "./wait";

type Props = {
  zones: Schemas["ZoneCard"][];
  chosen: string | null;
  choose: (zone: string | null) => void;
  /** Shop time now, in milliseconds. */
  now: number;
};

export function ZoneCards({ zones, chosen, choose, now }: Props) {
  return (
    <div
      className={zones.length > 3 ? "zone-cards many" : "zone-cards"}
      role="group"
      aria-label="Zones of the part"
    >
      {zones.map((z) => {
        const wait = z.wait ? waitNow(z.wait, now) : null;
        return (
          <button
            key={z.id ?? "part"}
            type="button"
            className="zone-card"
            aria-pressed={(z.id ?? null) === chosen}
            onClick={() => choose(z.id ?? null)}
          >
            <Ring wait={wait} complete={z.complete} />
            <span className="zone-said">
              <b>{z.name}</b> <span className="nowrap">{z.line}</span>
              <br />
              <span className={`small ${wait ? `wait-${wait.tone}` : "slate"}`}>
                {wait ? (
                  <>
                    <span className="mono">{stopwatch(wait.since)}</span> · {wait.word}
                  </>
                ) : z.complete ? (
                  `all on${z.readings ? ` · read ${z.readings}` : ""}`
                ) : (
                  (z.patches ?? z.area.text)
                )}
              </span>
            </span>
            {z.wet && <Level level={z.wet} size="list" />}
          </button>
        );
      })}
    </div>
  );
}
