// A try of pressure: what to set next, what was seen, what the transmitters read, what the model makes of it.
import { Button } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useDry, useWrite } from "../../api/entry";
import { emptying } from "../../api/turns";
import type { StationProps } from "../../batch/station";
import { LiveGauges, useGauges } from "../../rigs/LiveGauges";
import { Asked } from "../../ui/Asked";
import { FileField } from "../../ui/FileField";
import { Choice } from "../../ui/Choice";
import { Level } from "../../ui/Level";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Reckoned } from "./Modelled";
import { Patterns } from "./Patterns";
import { Presets } from "./Presets";
import { StreamPicture } from "./StreamPicture";
import { TryTable } from "./TryTable";
import { CAP, HOW, READ_AT, STEPS } from "./words";

const EMPTY = {
  pot_kpa: "",
  b_kpa: "",
  atomizing_kpa: "",
  stream_mm: "",
  catalyst_kpa: "",
  air_at: "",
  air_how: "",
  pattern: "",
  cap: "",
  step: "",
  fan_turns_count: "",
  needle_turns_count: "",
  refine_turns_count: "",
  texture_grit_count: "",
  looked_after_s: "",
};
type Form = typeof EMPTY;
/** What the next try begins with: the air is read where and how it was read before. */
const kept = (f: Form): Form => ({ ...EMPTY, air_at: f.air_at, air_how: f.air_how });

export function Tries({ view, toRig }: StationProps & { toRig: () => void }) {
  const [form, setForm] = useState<Form>(EMPTY);
  const [more, setMore] = useState(false);
  const [photo, setPhoto] = useState<Schemas["Attached"] | null>(null);
  const { write, refused } = useWrite(view.id);
  const gauges = useGauges(view.set.rig);
  const ready = form.pot_kpa.trim() !== "";
  const air = form.atomizing_kpa.trim() !== "";
  const payload = {
    ...Object.fromEntries(
      // Where and how the air was read goes with an air that was read.
      Object.entries(form).filter(([k, v]) => v.trim() !== "" && (air || !k.startsWith("air_"))),
    ),
    ...(photo ? { photo } : {}),
  };
  const dry = useDry(view.id, "set_up", ready ? payload : null);
  const refusals = refused?.fields ?? dry?.refusals;
  const set = view.set;
  const typed = ready && (form.stream_mm.trim() !== "" || form.pattern !== "");
  const seen = (ready ? dry?.view?.set : undefined) ?? set;
  const stream = (typed ? seen.stream : set.stream) ?? null;
  const machine = set.rig_kind === "gel_coat_machine";
  const twin = set.rig_kind === "twin_pots";
  const fan = !set.ladder && air;
  const field = (name: keyof Form, label: string, hint?: string) => (
    <Asked
      form={form}
      set={setForm}
      name={name}
      label={label}
      hint={hint}
      understood={dry?.understood}
      refusals={refusals}
      autoFocus={name === "pot_kpa"}
    />
  );
  const choice = (name: keyof Form, label: string, options: readonly (readonly [string, string])[]) => (
    <Choice
      name={name}
      label={label}
      value={form[name]}
      set={(v) => setForm((f) => ({ ...f, [name]: v }))}
      options={options}
      hint=" "
    />
  );
  const stop = dry?.refusals.find((r) => r.code === "over-rating");
  const live = gauges?.pot;
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          const answer = write("set_up", payload);
          void emptying(form, kept(form), setForm, answer);
          void emptying(photo, null, setPhoto, answer);
        }}
      >
        {set.advice && (
          <p className={`advice ${set.advice.down ? "down" : ""}`}>
            {set.advice.to && <b className="live mono">{set.advice.to.text}</b>}
            <span>{set.advice.text}</span>
          </p>
        )}
        <span className="label">
          {set.ladder
            ? "A short burst, square to the paper. What is the pattern?"
            : "Full trigger, atomizing air off. Where does the stream start to bend?"}
        </span>
        <div className="fields three">
          {field("pot_kpa", set.ladder ? "Pump pressure" : twin ? "Pressure of A" : "Pot pressure")}
          {twin && field("b_kpa", "Pressure of B", "the proof is of both")}
          {set.ladder
            ? machine && field("catalyst_kpa", "Catalyst air")
            : field("stream_mm", "Stream", set.school)}
          {field("atomizing_kpa", set.ladder ? "Air at the gun" : "Atomizing", "after the stream")}
          {air && choice("air_at", "Air read", READ_AT)}
          {air && choice("air_how", "Read with", HOW)}
          {(set.ladder || more) && field("refine_turns_count", "Refinement air", "turns, in quarters")}
        </div>
        {live && (
          <div className="gauge-line">
            <LiveGauges gauges={gauges} small />
            <Button
              variant="outlined"
              name="take-gauge"
              onClick={() => setForm((f) => ({ ...f, pot_kpa: live.text }))}
            >
              Take {live.text}
            </Button>
          </div>
        )}
        {(set.ladder || fan) && (
          <Patterns
            of={set.patterns}
            value={form.pattern}
            set={(pattern) => setForm((f) => ({ ...f, pattern }))}
          />
        )}
        {form.pattern === "lopsided" && choice("cap", "With the cap turned half round it", CAP)}
        {more && (
          <>
            <div className="fields three">
              {choice("step", "For the step", STEPS)}
              {field("fan_turns_count", "Fan knob", "turns from shut")}
              {field("needle_turns_count", "Needle", "turns from shut")}
              {field("texture_grit_count", "Texture like grit", "waterborne, on paper")}
              {field("looked_after_s", "Looked at after", "it levels late")}
            </div>
            <FileField
              label="Picture of the pattern"
              accept="image/png,image/jpeg"
              taken={photo}
              take={setPhoto}
            />
          </>
        )}
        {stream && !set.ladder && <Level level={stream.level} size="big" />}
        {stop && (
          <p className="refusal" role="alert">
            <b>Stop. </b>
            {stop.text}
          </p>
        )}
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!ready} name="take-try">
            Take this try
          </Button>
          <Button variant="outlined" name="more-try" onClick={() => setMore((m) => !m)} aria-expanded={more}>
            {more ? "Fewer settings" : "Step, knobs, picture"}
          </Button>
          {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        </div>
        {(ready ? seen : set).notes.map((n) => (
          <p key={n} className="word-tell">
            {n}
          </p>
        ))}
        {set.drift && <p className="word-tell">{set.drift}</p>}
        <Steps steps={set.steps} />
        <TryTable tries={set.set_ups} ladder={set.ladder} />
      </form>
      <div className="see">
        {!set.ladder && (
          <>
            <span className="label">The stream, band {set.school}</span>
            <StreamPicture
              set={seen}
              stream={stream}
              tap={(mm) => setForm((f) => ({ ...f, stream_mm: `${mm.toFixed(0)} mm` }))}
            />
          </>
        )}
        {seen.modelled && (
          <>
            <span className="label">Reckoned: where the pressure goes</span>
            <Reckoned modelled={seen.modelled} />
          </>
        )}
        {seen.wall && <p>{seen.wall}</p>}
        <Presets presets={seen.presets} />
        {!seen.modelled && <WorkingSheet working={stream?.working} />}
        {!set.rig && (
          <p className="slate">
            <button type="button" className="link" name="to-rig" onClick={toRig}>
              Choose the rig
            </button>
            , and what each pressure gives is reckoned beside what is seen.
          </p>
        )}
        {set.rig && !seen.modelled && !set.ladder && (
          <p className="slate">
            The sheet states no viscosity. Run a cup or catch a flow, and the model knows this paint.
          </p>
        )}
      </div>
    </>
  );
}

/** The steps of one coat: the fluid pressure stays, the air changes. */
function Steps({ steps }: { steps: Schemas["StepSetting"][] }) {
  if (steps.length === 0) return null;
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Step of the coat</th>
          <th className="num">Fluid</th>
          <th className="num">Air</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {steps.map((s) => (
          <tr key={s.step}>
            <td>{s.word}</td>
            <td className="num">{s.pot.text}</td>
            <td className="num">{s.atomizing?.text ?? "–"}</td>
            <td className="word-tell">
              {s.other_fluid ? "keep the fluid as in the first step, change the air" : ""}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
