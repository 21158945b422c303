// Prove: a pot as it was weighed, or two catches at full trigger.
import { Button } from "@mui/material";
import { useState } from "react";
import { v7 } from "uuid";
import { at, useDry, useWrite } from "../api/entry";
import { Field } from "../ui/Field";
import { Level } from "../ui/Level";
import { Empty } from "../ui/states";
import { useScale } from "../ui/ScaleChoice";
import { WorkingSheet } from "../ui/WorkingSheet";
import type { StationProps } from "./station";

const EMPTY = { a_g: "", b_g: "" };

export function ProveStation({ view }: StationProps) {
  const scale = useScale("finest");
  const [form, setForm] = useState(EMPTY);
  const [charge] = useState(() => v7());
  const { write, busy, refused } = useWrite(view.id);
  // Catches belong to the charge on the gun, or the one waiting for it.
  const live = view.spray.charge ?? view.spray.start;
  const payload =
    live && form.a_g.trim() && form.b_g.trim() && scale.instrument
      ? { ...form, charge: live, instrument: scale.instrument }
      : null;
  const dry = useDry(view.id, "catch", payload);
  const refusals = refused?.fields ?? dry?.refusals;
  const proofs = (dry?.view ?? view).prove.proofs;
  if (!view.hardened) return <Empty>This product has no second component: there is no ratio to prove.</Empty>;
  const newest = proofs[0];
  return (
    <>
      <div className="do">
        {!live && view.prove.by_catch ? (
          <>
            <span className="label">Charge of the gun</span>
            <p>Open the charge: both supplies are set, outlets wiped, two clean cups tared.</p>
            <div className="actions">
              <Button
                variant="contained"
                disabled={busy}
                name="open-at-gun"
                onClick={() =>
                  void write("open_charge", { charge, kind: "at_gun", wanted_ml: view.need.text })
                }
              >
                Open the charge
              </Button>
            </div>
          </>
        ) : live && view.prove.by_catch ? (
          <form
            style={{ display: "grid", gap: 8 }}
            onSubmit={(e) => {
              e.preventDefault();
              if (payload) void write("catch", payload).then((ok) => ok && setForm(EMPTY));
            }}
          >
            <span className="label">Catch both streams, full trigger, the same time</span>
            <div className="fields">
              <Field
                name="a_g"
                label="Catch A"
                value={form.a_g}
                onChange={(a_g) => setForm((f) => ({ ...f, a_g }))}
                understood={dry?.understood}
                error={at("a_g", refusals)}
              />
              <Field
                name="b_g"
                label="Catch B"
                value={form.b_g}
                onChange={(b_g) => setForm((f) => ({ ...f, b_g }))}
                understood={dry?.understood}
                error={at("b_g", refusals)}
              />
            </div>
            <div className="actions">
              <Button type="submit" variant="contained" disabled={!payload || busy} name="take-catch">
                Take this catch
              </Button>
              {scale.choice}
            </div>
          </form>
        ) : (
          <p className="slate">
            A pot is proved as it is weighed: base and hardener on the scale, each reading with its doubt.
            {proofs.length === 0 && " Weigh both at Mix; the ratio stands here then."}
          </p>
        )}
        {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
        {proofs.length > 1 && <span className="label">Every proof, newest first</span>}
        {proofs.slice(1).map((p, i) => (
          <div key={`${p.title}${i}`}>
            <div className="small slate">{p.title}</div>
            <Level level={{ ...p.level, label: "" }} size="list" />
          </div>
        ))}
      </div>
      <div className="see">
        {newest ? (
          <>
            <span className="label">{newest.title}</span>
            <Level level={newest.level} size="big" />
            <WorkingSheet working={newest.working} last={5} />
          </>
        ) : (
          <p className="slate">The ratio stands here with its interval once something is weighed.</p>
        )}
      </div>
    </>
  );
}
