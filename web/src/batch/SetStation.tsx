// Set: pot pressure, then where the stream starts to bend, on an inch rule.
import { Button } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { at, useDry, useWrite } from "../api/entry";
import { Field } from "../ui/Field";
import { Level } from "../ui/Level";
import { WorkingSheet } from "../ui/WorkingSheet";
import type { StationProps } from "./station";

const EMPTY = { pot_kpa: "", atomizing_kpa: "", stream_mm: "" };

export function SetStation({ view }: StationProps) {
  const [form, setForm] = useState(EMPTY);
  const { write, busy, refused } = useWrite(view.id);
  const payload = form.pot_kpa.trim() ? form : null;
  const dry = useDry(view.id, "set_up", payload);
  const refusals = refused?.fields ?? dry?.refusals;
  const typed = Boolean(payload && form.stream_mm.trim());
  const stream = (typed ? dry?.view : view)?.set.stream ?? view.set.stream;
  const field = (name: keyof typeof EMPTY, label: string, hint?: string) => (
    <Field
      name={name}
      label={label}
      value={form[name]}
      onChange={(v) => setForm((f) => ({ ...f, [name]: v }))}
      understood={dry?.understood}
      error={at(name, refusals)}
      hint={hint}
      autoFocus={name === "pot_kpa"}
    />
  );
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void write("set_up", form).then((ok) => ok && setForm(EMPTY));
        }}
      >
        <span className="label">Full trigger, atomizing air off. Where does the stream start to bend?</span>
        <div className="fields three">
          {field("pot_kpa", "Pot pressure")}
          {field("stream_mm", "Stream", view.set.school)}
          {field("atomizing_kpa", "Atomizing", "read with it off")}
        </div>
        {stream && <Level level={stream.level} size="big" />}
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!payload || busy} name="take-try">
            Take this try
          </Button>
          {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        </div>
        {view.set.tries.length > 0 && (
          <table className="rows">
            <thead>
              <tr>
                <th>Try</th>
                <th className="num">Pot</th>
                <th className="num">Stream</th>
                <th className="num">Atomizing</th>
                <th>Verdict</th>
              </tr>
            </thead>
            <tbody>
              {view.set.tries.map((t, i) => (
                <tr key={t.entry} className={i === view.set.tries.length - 1 ? "now" : ""}>
                  <td>{i + 1}</td>
                  <td className="num">{t.pot.text}</td>
                  <td className="num">{t.stream?.text ?? "–"}</td>
                  <td className="num">{t.atomizing?.text ?? "–"}</td>
                  <td>{t.word || "–"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </form>
      <div className="see">
        <span className="label">The stream, band {view.set.school}</span>
        <StreamPicture set={(typed ? dry?.view : view)?.set ?? view.set} stream={stream ?? null} />
        {!stream && (
          <p className="slate">
            The arc is drawn here when a stream is seen. Start at low pressure and go up slowly.
          </p>
        )}
        <WorkingSheet working={stream?.working} />
      </div>
    </>
  );
}

// Sixteen inches of rule across 416 units, whatever unit it is marked in.
const PER_MM = 26 / 25.4;

function StreamPicture({ set, stream }: { set: Schemas["SetView"]; stream: Schemas["Stream"] | null }) {
  const x = (mm: number) => 92 + mm * PER_MM;
  const y = (mm: number) => 40 + (mm / 25.4) * 30;
  const path = (points: Schemas["ArcPoint"][]) =>
    points.map((p, i) => `${i === 0 ? "M" : "L"}${x(p.x_mm).toFixed(1)} ${y(p.drop_mm).toFixed(1)}`).join("");
  const arc = (key: string, points: Schemas["ArcPoint"][], width: number, colour: string, dash?: string) => (
    <path
      key={key}
      d={path(points)}
      fill="none"
      stroke={colour}
      strokeWidth={width}
      strokeDasharray={dash}
      strokeLinecap="round"
    />
  );
  return (
    <svg
      viewBox="0 0 530 214"
      style={{ width: "100%", maxHeight: 230 }}
      role="img"
      aria-label={
        stream ? `Stream ${stream.level.shown.text}, ${stream.level.word}` : "Gun, no stream seen yet"
      }
    >
      <rect
        x={x(set.band_lo_mm)}
        y={6}
        width={x(set.band_hi_mm) - x(set.band_lo_mm)}
        height={164}
        fill="var(--wash)"
      />
      {[set.band_lo_mm, set.band_hi_mm].map((mm) => (
        <path key={mm} d={`M${x(mm)} 6V170`} stroke="var(--ink)" strokeWidth="2" />
      ))}
      {stream && arc("shortest", stream.shortest, 2, "var(--slate)", "5 5")}
      {stream && arc("longest", stream.longest, 2, "var(--slate)", "5 5")}
      {/* Tries before this one stay, thin: the next pressure is read off them. */}
      {set.tries.slice(0, -1).map((t) => arc(t.entry, t.arc, 2, "var(--slate)"))}
      {stream && arc("seen", stream.arc, 6, "var(--verdigris)")}
      <path
        d="M20 26 H76 L92 34 V46 L76 54 H56 L46 104 H26 L34 54 H20 Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M92 180H508" stroke="var(--ink)" strokeWidth="2.5" />
      {set.rule.map((m) => (
        <g key={m.at_mm}>
          <path d={`M${x(m.at_mm)} 180v${m.figure ? 12 : 6}`} stroke="var(--ink)" strokeWidth="2" />
          {m.figure && (
            <text x={x(m.at_mm)} y="208" fontSize="15" textAnchor="middle" fill="var(--slate)">
              {m.figure}
            </text>
          )}
        </g>
      ))}
      <text x="512" y="186" fontSize="15" fill="var(--slate)">
        {set.rule_unit}
      </text>
    </svg>
  );
}
