// The section planner: the largest patch each limit allows, and which one binds.
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";
import { EntryField } from "../../ui/EntryField";
import { ZoneDrawing } from "./ZoneDrawing";

const EMPTY = { open_s: "", prepared_m2: "", prepared_s: "", return_s: "", reach_m2: "" };

export function Sections({ view }: StationProps<"spray">) {
  const sections = view.spray.board?.sections;
  const entry = useEntryForm(view.id, "plan_sections", EMPTY, {
    begin: sections?.texts ?? {},
    keep: (f) => f,
    says: (f) =>
      Object.values(f).some((text) => text.trim())
        ? Object.fromEntries(Object.entries(f).map(([field, text]) => [field, text.trim() ? text : null]))
        : null,
  });
  const board = (!entry.dry?.stale && entry.view?.spray?.board) || view.spray.board;
  const seen = board?.sections;
  const zones = board?.zones ?? [];
  const f = { of: entry };
  return (
    <form className="see" onSubmit={entry.submit}>
      <span className="label">The largest patch at once</span>
      <div className="fields three">
        <EntryField {...f} name="prepared_m2" label="Prepared" hint="so much" />
        <EntryField {...f} name="prepared_s" label="In" hint="a time" />
        <EntryField {...f} name="open_s" label="Coated within" />
        <EntryField {...f} name="return_s" label="Back in" hint="at its first place" />
        <EntryField {...f} name="reach_m2" label="Reach" hint="without moving" />
        <Act name="plan-sections" word="Plan" needs={!entry.ready && "say one of them"} />
      </div>
      {entry.stray && <p className="refusal">{entry.stray}</p>}
      {seen && (
        <>
          <ul className="patch-limits" aria-label="What limits a patch">
            {seen.limits.map((l) => (
              <li key={l.word} className={l.binds ? "binds" : ""}>
                <b className="mono">{l.area.text}</b> {l.word}
                {l.binds && " · this one rules"}
              </li>
            ))}
          </ul>
          <p className="small slate">{seen.by}</p>
          {board && <ZoneDrawing board={board} chosen={null} choose={() => undefined} />}
          {seen.limits.length > 0 && (
            <p className="small">
              {zones
                .filter((z) => z.patches)
                .map((z) => `${z.name}: ${z.patches}`)
                .join(" · ")}
            </p>
          )}
        </>
      )}
    </form>
  );
}
