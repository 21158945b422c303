// Prove: a pot as it was weighed, or two catches at full trigger and the pressure to move next.
import { Button } from "@mui/material";
import { useState } from "react";
import { v7 } from "uuid";
import type { Schemas } from "../../api/client";
import { at, useDry, useWrite } from "../../api/entry";
import { useKeys } from "../../app/keys";
import { emptying } from "../../api/turns";
import { stopwatch } from "../../ui/clock";
import { Field } from "../../ui/Field";
import { Level } from "../../ui/Level";
import { useScale } from "../../ui/ScaleChoice";
import { Empty } from "../../ui/states";
import { useStopwatch } from "../../ui/stopwatch";
import { WorkingSheet } from "../../ui/WorkingSheet";
import type { StationProps } from "../../batch/station";
import { TwoCups } from "./TwoCups";

const CATCH = { a_g: "", b_g: "", caught_watch_s: "" };

export function ProveStation({ view }: StationProps) {
  const [charge] = useState(() => v7());
  const { write, refused } = useWrite(view.id);
  // Catches belong to the charge on the gun, or the one waiting for it.
  const live = view.spray.charge ?? view.spray.start;
  if (!view.hardened) return <Empty>This product has no second component: there is no ratio to prove.</Empty>;
  if (live && view.prove.by_catch) return <Catches view={view} charge={live} />;
  const newest = view.prove.proofs[0];
  return (
    <>
      <div className="do">
        {view.prove.by_catch ? (
          <>
            <span className="label">Charge of the gun</span>
            <p>Open the charge: both supplies are set, outlets wiped, two clean cups tared.</p>
            <div className="actions">
              <Button
                variant="contained"
                name="open-at-gun"
                onClick={() =>
                  void write("open_charge", { charge, kind: "at_gun", wanted_ml: view.need.text })
                }
              >
                Open the charge
              </Button>
            </div>
          </>
        ) : (
          <p className="slate">
            A pot is proved as it is weighed: base and hardener on the scale, each reading with its doubt.
            {!newest && " Weigh both at Mix; the ratio stands here then."}
          </p>
        )}
        {refused && <p className="refusal">{refused.detail}</p>}
        <Proofs proofs={view.prove.proofs} />
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

function Catches({ view, charge }: StationProps & { charge: string }) {
  const scale = useScale("finest");
  const last = view.prove;
  const [form, setForm] = useState(CATCH);
  // Pressures and lift stay as they were until somebody moves them.
  const [rig, setRig] = useState({
    a_kpa: last.last_a?.text ?? "",
    b_kpa: last.last_b?.text ?? "",
    lift_mm: last.last_lift?.text ?? "",
  });
  const { write, refused } = useWrite(view.id);
  const watch = useStopwatch();
  const toggle = () => {
    const seconds = watch.toggle();
    if (seconds !== null) setForm((f) => ({ ...f, caught_watch_s: `${seconds.toFixed(1)} s` }));
  };
  useKeys((key) => (key === "s" ? (toggle(), true) : false));
  const payload =
    form.a_g.trim() && form.b_g.trim() && scale.instrument
      ? { ...form, ...rig, charge, instrument: scale.instrument }
      : null;
  const dry = useDry(view.id, "ratio_check", payload);
  const refusals = refused?.fields ?? dry?.refusals;
  const prove = (dry?.view ?? view).prove;
  const newest = prove.proofs[0];
  const field = (name: keyof typeof CATCH | keyof typeof rig, label: string, hint?: string) => (
    <Field
      name={name}
      label={label}
      value={name in form ? form[name as keyof typeof CATCH] : rig[name as keyof typeof rig]}
      onChange={(v) =>
        name in form ? setForm((f) => ({ ...f, [name]: v })) : setRig((r) => ({ ...r, [name]: v }))
      }
      understood={dry?.understood}
      error={at(name, refusals)}
      hint={hint}
      autoFocus={name === "a_g"}
    />
  );
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          if (payload) void emptying(form, CATCH, setForm, write("ratio_check", payload));
        }}
      >
        <span className="label">Catch both streams, full trigger, the same time, clean tared cups</span>
        <div className="fields three">
          {field("a_g", "Catch A")}
          {field("b_g", "Catch B")}
          {scale.choice}
        </div>
        <div className="fields four">
          {field("a_kpa", "Pressure A")}
          {field("b_kpa", "Pressure B")}
          {field("caught_watch_s", "Time", "gives flow")}
          {field("lift_mm", "Lift", "pot to gun")}
        </div>
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!payload} name="take-catch">
            Take this catch
          </Button>
          <Button type="button" variant="outlined" name="stopwatch" onClick={toggle}>
            {watch.running ? `Stop · ${stopwatch(watch.seconds)}` : "Start the watch · s"}
          </Button>
        </div>
        {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
        <Proofs proofs={prove.proofs} />
      </form>
      <div className="see">
        {newest ? (
          <>
            <span className="label">{newest.title}</span>
            <Level level={newest.level} size="big" />
          </>
        ) : (
          <p className="slate">The ratio stands here with its interval once both cups are weighed.</p>
        )}
        {prove.advice && (
          <p className="advice" role="status">
            <b>{prove.advice.text}</b>
          </p>
        )}
        <TwoCups cups={prove.cups ?? null} moved={prove.advice ?? null} />
        {prove.advice && <WorkingSheet working={prove.advice.working} />}
        {newest && <WorkingSheet working={newest.working} last={prove.advice ? 1 : 3} />}
      </div>
    </>
  );
}

function Proofs({ proofs }: { proofs: Schemas["Proof"][] }) {
  if (proofs.length < 2) return null;
  return (
    <>
      <span className="label">Proofs before, newest first</span>
      <div className="list">
        {proofs.slice(1).map((p, i) => (
          <div key={`${p.title}${i}`} className="proof">
            <span className="small slate">{p.title}</span>
            <Level level={{ ...p.level, label: "" }} size="list" />
          </div>
        ))}
      </div>
    </>
  );
}
