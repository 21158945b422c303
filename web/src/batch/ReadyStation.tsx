// Ready: four readings, the dew point, go / hold / stop, and the guards by hazard.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { at, useDry, useWrite } from "../api/entry";
import { meQuery } from "../api/queries";
import { useElapsed } from "../ui/clock";
import { Field } from "../ui/Field";
import { Level } from "../ui/Level";
import { RecoatLine } from "../ui/RecoatLine";
import { WorkingSheet } from "../ui/WorkingSheet";
import type { StationProps } from "./station";

const EMPTY = { air_c: "", surface_c: "", material_c: "", rh_pct: "" };
const GATE: Record<Schemas["Gate"], [string, string]> = {
  go: ["Go", "word-in"],
  hold: ["Hold", "word-tell"],
  stop: ["Stop", "word-out"],
};

export function ReadyStation({ view }: StationProps) {
  const [form, setForm] = useState(EMPTY);
  const { write, busy, refused } = useWrite(view.id);
  const full = Object.values(form).every((v) => v.trim() !== "");
  const some = Object.values(form).some((v) => v.trim() !== "");
  const dry = useDry(view.id, "conditions", some ? form : null);
  const refusals =
    refused?.fields ?? dry?.refusals.filter((r) => r.field && form[r.field as keyof typeof form]);
  const ready = (dry?.view ?? view).ready;
  const [ticked, setTicked] = useState<string[]>([]);
  const open = view.cautions.filter((c) => !c.met);
  const field = (name: keyof typeof EMPTY, label: string) => (
    <Field
      name={name}
      label={label}
      value={form[name]}
      onChange={(v) => setForm((f) => ({ ...f, [name]: v }))}
      understood={dry?.understood}
      error={at(name, refusals)}
      autoFocus={name === "air_c" && !view.ready.read_at}
    />
  );
  const me = useQuery(meQuery).data;
  const elapsed = useElapsed(view.received, me?.clock_rate ?? 1);
  const gate = ready.gate ? GATE[ready.gate] : null;
  return (
    <>
      <div className="do">
        <form
          style={{ display: "grid", gap: 6 }}
          onSubmit={(e) => {
            e.preventDefault();
            void write("conditions", form).then((ok) => ok && setForm(EMPTY));
          }}
        >
          <span className="label">Read air, surface, material and humidity at the part</span>
          <div className="fields">
            {field("air_c", "Air")}
            {field("surface_c", "Surface")}
            {field("material_c", "Material")}
            {field("rh_pct", "Relative humidity")}
          </div>
          <div className="actions">
            <Button
              type="submit"
              variant={view.ready.read_at && open.length > 0 ? "outlined" : "contained"}
              disabled={!full || busy}
              name="take-conditions"
            >
              Take these readings
            </Button>
            {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
          </div>
        </form>
        {view.cautions.length > 0 && (
          <div>
            <span className="label">
              {open.length > 0 ? "Guards on? Tick what you have put on" : "Guards on"}
            </span>
            {open.length === 0 && <p>{view.cautions.map((c) => c.name).join(", ")}</p>}
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
              <Button
                sx={{ mt: 1 }}
                variant={view.ready.read_at ? "contained" : "outlined"}
                disabled={ticked.length < open.length || busy}
                name="take-guards"
                onClick={() => void write("guards", { hazards: ticked })}
              >
                Guards are on
              </Button>
            )}
          </div>
        )}
        {view.ready.beneath && (
          <RecoatLine
            clock={view.ready.beneath}
            elapsed={elapsed}
            title="The coat beneath:"
            zone={me?.zone ?? "UTC"}
            asOf={view.as_of}
          />
        )}
      </div>
      <div className="see">
        {gate ? (
          <div style={{ display: "flex", gap: 22, alignItems: "baseline" }}>
            <span className={`live ${gate[1]}`}>{gate[0]}</span>
            <span>
              dew point <b className="mono">{ready.dew_point?.text}</b>, surface{" "}
              <b className="mono">{ready.surface?.text}</b>
              {dry?.view && <span className="slate"> as typed, not taken yet</span>}
            </span>
          </div>
        ) : (
          <p className="empty">
            Nothing is read yet. The surface must lie above the dew point by the sheet’s margin.
          </p>
        )}
        {ready.levels.map((l, i) => (
          <Level key={l.label} level={l} size={i === 0 ? "big" : "normal"} />
        ))}
        <WorkingSheet working={ready.working} />
      </div>
    </>
  );
}
