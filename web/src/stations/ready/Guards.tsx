// Guards by hazard: each ticked by the one who has it on.
import { useState } from "react";
import { useWrite } from "../../api/entry";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";

export function Guards({ view }: StationProps<"ready">) {
  const { write } = useWrite(view.id);
  const [ticked, setTicked] = useState<Schemas["Hazard"][]>([]);
  const open = view.cautions.filter((c) => !c.met);
  if (view.cautions.length === 0) return null;
  return (
    <section className="check-group">
      <h3>
        Guards{" "}
        <span className="slate">
          {view.cautions.length - open.length} of {view.cautions.length}
        </span>
      </h3>
      {open.length === 0 && <p className="slate">{view.cautions.map((c) => c.name).join(", ")}: on</p>}
      {open.map((c) => (
        <label key={c.hazard} className="tick">
          <input
            type="checkbox"
            name={`guard-${c.hazard}`}
            checked={ticked.includes(c.hazard)}
            onChange={(e) =>
              setTicked((t) => (e.target.checked ? [...t, c.hazard] : t.filter((h) => h !== c.hazard)))
            }
          />
          <span>
            <b>{c.name}.</b> <span className="small">{c.text}</span>
          </span>
        </label>
      ))}
      {open.length > 0 && (
        <div className="actions">
          <Act
            name="take-guards"
            word="Guards are on"
            needs={ticked.length < open.length && "tick each that is on"}
            press={() => void write("guards", { hazards: ticked })}
          />
        </div>
      )}
    </section>
  );
}
