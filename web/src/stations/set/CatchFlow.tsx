// A catch by stopwatch and scale or cup: it tells the flow, and so how thick this paint really is. A flow cup tells it too.
import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { at, useDry, useWrite } from "../../api/entry";
import { emptying } from "../../api/turns";
import type { StationProps } from "../../batch/station";
import { CUPS } from "../../rigs/words";
import { stopwatch } from "../../ui/clock";
import { Choice } from "../../ui/Choice";
import { Asked } from "../../ui/Asked";
import { Field } from "../../ui/Field";
import { useKeys } from "../../app/keys";
import { Modelled } from "./Modelled";

const EMPTY = { pot_kpa: "", caught_g: "", caught_ml: "", caught_watch_s: "" };
type Form = typeof EMPTY;

export function CatchFlow({ view }: StationProps) {
  const last = view.set.set_ups[view.set.set_ups.length - 1];
  const [form, setForm] = useState<Form>({ ...EMPTY, pot_kpa: last?.pot.text ?? "" });
  const [cup, setCup] = useState({ cup: "ford4", run_cup_s: "" });
  const { write, refused } = useWrite(view.id);
  const filled = Object.fromEntries(Object.entries(form).filter(([, v]) => v.trim() !== ""));
  const ready =
    form.pot_kpa.trim() && form.caught_watch_s.trim() && (form.caught_g.trim() || form.caught_ml.trim());
  const dry = useDry(view.id, "flow_catch", ready ? filled : null);
  const cupPayload = cup.run_cup_s.trim() ? cup : null;
  const cupDry = useDry(view.id, "cup_run", cupPayload);
  const refusals = refused?.fields ?? dry?.refusals;
  const seen = dry?.view?.set.modelled ?? cupDry?.view?.set.modelled ?? view.set.modelled;
  const field = (name: keyof Form, label: string, hint?: string) => (
    <Asked
      form={form}
      set={setForm}
      name={name}
      label={label}
      hint={hint}
      understood={dry?.understood}
      refusals={refusals}
    />
  );
  const cupError = at("run_cup_s", cupDry?.refusals);
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void emptying(form, { ...EMPTY, pot_kpa: form.pot_kpa }, setForm, write("flow_catch", filled));
        }}
      >
        <span className="label">Full trigger into a tared cup, air off, by the watch</span>
        <Stopwatch take={(s) => setForm((f) => ({ ...f, caught_watch_s: s }))} />
        <div className="fields">
          {field("pot_kpa", "At this pressure")}
          {field("caught_watch_s", "Caught for")}
          {field("caught_g", "Weighed", "or measured")}
          {field("caught_ml", "Measured")}
        </div>
        <div className="actions">
          <Button type="submit" variant="contained" name="take-catch" disabled={!ready || !view.set.rig}>
            Take this catch
          </Button>
          {!view.set.rig && (
            <span className="slate">Choose the rig first: its hose and nozzle are reckoned with.</span>
          )}
          {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        </div>
        <span className="label">Or a flow cup, at the paint’s own temperature</span>
        <div className="actions">
          <Choice
            name="cup"
            label="Cup"
            value={cup.cup}
            set={(v) => setCup((c) => ({ ...c, cup: v }))}
            options={CUPS}
            hint=" "
          />
          <Field
            name="run_cup_s"
            label="It ran for"
            value={cup.run_cup_s}
            onChange={(v) => setCup((c) => ({ ...c, run_cup_s: v }))}
            {...(cupError ? { error: cupError } : {})}
          />
          <Button
            variant="outlined"
            name="take-cup"
            disabled={!cupPayload || Boolean(cupError)}
            onClick={() =>
              cupPayload &&
              void emptying(cup, { ...cup, run_cup_s: "" }, setCup, write("cup_run", cupPayload))
            }
          >
            Take it
          </Button>
        </div>
      </form>
      <div className="see">
        {seen ? (
          <Modelled modelled={seen} />
        ) : (
          <p className="slate">What is caught at one pressure tells what every other gives.</p>
        )}
      </div>
    </>
  );
}

/** Start and stop by hand, foot or key; what it ran goes into the field. */
function Stopwatch({ take }: { take: (seconds: string) => void }) {
  const began = useRef<number | null>(null);
  const [ran, setRan] = useState(0);
  const [on, setOn] = useState(false);
  useEffect(() => {
    if (!on) return;
    const timer = setInterval(() => setRan((performance.now() - (began.current ?? 0)) / 1000), 100);
    return () => clearInterval(timer);
  }, [on]);
  const press = () => {
    if (!on) {
      began.current = performance.now();
      setRan(0);
      setOn(true);
      return;
    }
    const s = (performance.now() - (began.current ?? 0)) / 1000;
    setRan(s);
    setOn(false);
    take(`${s.toFixed(1)} s`);
  };
  useKeys((key) => {
    if (key !== "s") return false;
    press();
    return true;
  });
  return (
    <div className="actions">
      <Button variant="outlined" size="large" name="stopwatch" onClick={press} sx={{ minWidth: 160 }}>
        {on ? "Stop · s" : "Start · s"}
      </Button>
      <span className="live mono">{stopwatch(ran)}</span>
    </div>
  );
}
