// Every pass and everything that happened, newest first; once the coat is on, its clocks.
import type { StationProps } from "../../batch/station";
import { shopTime } from "../../ui/clock";
import { ExportLink } from "../../ui/ExportLink";
import { Passes } from "./Passes";

export function PassesTab({ view, zone }: StationProps<"spray"> & { zone: string }) {
  const board = view.spray.board;
  const happened = board?.happened ?? [];
  const clocks = board?.clocks ?? [];
  return (
    <>
      <div className="do tab-passes">
        {view.spray.passes.length > 0 ? (
          <Passes view={view} zone={zone} />
        ) : (
          <p className="empty">
            No pass yet. Each stamp stands here with its zone, its way and what was out of order.
          </p>
        )}
      </div>
      <div className="see">
        <span className="label">What happened</span>
        {happened.length === 0 && <p className="slate">Nothing odd so far.</p>}
        <ul className="plain">
          {happened.map((h) => (
            <li key={h.entry}>
              <span className="mono">{shopTime(h.at, zone, view.as_of)}</span> {h.text}
            </li>
          ))}
        </ul>
        {clocks.length > 0 && (
          <>
            <span className="label">The coat from now on</span>
            <ul className="plain">
              {clocks.map((c) => (
                <li key={c.what}>
                  <span className="mono">{shopTime(c.at, zone, view.as_of)}</span> {c.what}{" "}
                  <span className="small slate">{c.why}</span>
                </li>
              ))}
            </ul>
            <ExportLink href={`/api/v1/batches/${view.id}/clocks.ics`} word="As a calendar" />
          </>
        )}
      </div>
    </>
  );
}
