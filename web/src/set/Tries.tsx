// A try of pressure: what to set next, what was seen, what the model makes of it.
import { Button } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useDry, useWrite } from "../api/entry";
import type { StationProps } from "../batch/station";
import { Choice } from "../ui/Choice";
import { Asked } from "../ui/Asked";
import { Level } from "../ui/Level";
import { WorkingSheet } from "../ui/WorkingSheet";
import { Reckoned } from "./Modelled";
import { Patterns } from "./Patterns";
import { StreamPicture } from "./StreamPicture";

const EMPTY = {
  pot_kpa: "",
  atomizing_kpa: "",
  stream_mm: "",
  catalyst_kpa: "",
  air_at: "",
  air_how: "",
  pattern: "",
};
type Form = typeof EMPTY;
const AT = [
  ["", "not said"],
  ["gun", "at the gun"],
  ["hose", "at the hose"],
  ["wall", "at the wall"],
] as const;
const HOW = [
  ["", "not said"],
  ["pulled", "trigger pulled"],
  ["air_stage", "air stage, fluid shut"],
  ["closed", "trigger closed"],
] as const;

/** What is empty is left out. */
const given = (form: Form) => Object.fromEntries(Object.entries(form).filter(([, v]) => v.trim() !== ""));

export function Tries({ view, toRig }: StationProps & { toRig: () => void }) {
  const [form, setForm] = useState<Form>(EMPTY);
  const { write, busy, refused } = useWrite(view.id);
  const ready = form.pot_kpa.trim() !== "";
  const dry = useDry(view.id, "set_up", ready ? given(form) : null);
  const refusals = refused?.fields ?? dry?.refusals;
  const set = view.set;
  const typed = ready && (form.stream_mm.trim() !== "" || form.pattern !== "");
  const seen = (ready ? dry?.view?.set : undefined) ?? set;
  const stream = (typed ? seen.stream : set.stream) ?? null;
  const machine = set.rig_kind === "gel_coat_machine";
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
  const stop = dry?.refusals.find((r) => r.code === "over-rating");
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void write("set_up", given(form)).then((ok) => ok && setForm(EMPTY));
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
          {field("pot_kpa", set.ladder ? "Pump pressure" : "Pot pressure")}
          {set.ladder
            ? machine
              ? field("catalyst_kpa", "Catalyst air")
              : null
            : field("stream_mm", "Stream", set.school)}
          {field("atomizing_kpa", set.ladder ? "Air at the gun" : "Atomizing", "after the stream")}
          {form.atomizing_kpa.trim() !== "" && (
            <>
              <Choice
                name="air_at"
                label="Air read"
                value={form.air_at}
                set={(air_at) => setForm((f) => ({ ...f, air_at }))}
                options={AT}
                hint=" "
              />
              <Choice
                name="air_how"
                label="Read with"
                value={form.air_how}
                set={(air_how) => setForm((f) => ({ ...f, air_how }))}
                options={HOW}
                hint=" "
              />
            </>
          )}
        </div>
        {set.ladder && (
          <Patterns value={form.pattern} set={(pattern) => setForm((f) => ({ ...f, pattern }))} />
        )}
        {stream && !set.ladder && <Level level={stream.level} size="big" />}
        {stop && (
          <p className="refusal" role="alert">
            <b>Stop. </b>
            {stop.text}
          </p>
        )}
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!ready || busy} name="take-try">
            Take this try
          </Button>
          {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        </div>
        {(typed ? seen : set).notes.map((n) => (
          <p key={n} className="word-tell">
            {n}
          </p>
        ))}
        {set.drift && <p className="word-tell">{set.drift}</p>}
        <TryTable tries={set.tries} ladder={set.ladder} />
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
        <Presets presets={set.presets} />
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

function TryTable({ tries, ladder }: { tries: Schemas["Try"][]; ladder: boolean }) {
  if (tries.length === 0) return null;
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Try</th>
          <th className="num">{ladder ? "Pump" : "Pot"}</th>
          <th className={ladder ? "" : "num"}>{ladder ? "Pattern" : "Stream"}</th>
          {!ladder && <th className="num">Reckoned</th>}
          <th className="num">Air</th>
          <th>{ladder ? "" : "Verdict"}</th>
        </tr>
      </thead>
      <tbody>
        {tries.map((t, i) => (
          <tr key={t.entry} className={i === tries.length - 1 ? "now" : ""}>
            <td>{i + 1}</td>
            <td className="num">{t.pot.text}</td>
            <td className={ladder ? "" : "num"}>{ladder ? (t.pattern ?? "–") : (t.stream?.text ?? "–")}</td>
            {!ladder && <td className="num slate">{t.expected?.text ?? "–"}</td>}
            <td className="num">{t.atomizing?.text ?? "–"}</td>
            <td>{t.word || "–"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Presets({ presets }: { presets: Schemas["Preset"][] }) {
  if (presets.length === 0) return null;
  return (
    <div>
      <span className="label">Last good set-ups with this product and rig</span>
      <table className="rows">
        <tbody>
          {presets.map((p) => (
            <tr key={p.number}>
              <td className="mono">{String(p.number).padStart(4, "0")}</td>
              <td className="num">
                <b>{p.pot.text}</b>
              </td>
              <td className="num">{p.stream?.text ?? "–"}</td>
              <td className="num">{p.atomizing ? `air ${p.atomizing.text}` : "–"}</td>
              <td className="num slate">{p.temperature?.text ?? ""}</td>
              <td className="small slate">{p.other_nozzle ? "another nozzle" : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
