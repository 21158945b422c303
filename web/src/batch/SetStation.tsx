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
        <StreamPicture stream={stream ?? null} />
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

const IN = 25.4;

function StreamPicture({ stream }: { stream: Schemas["Stream"] | null }) {
  // 16 inches of rule across 416 units.
  const x = (mm: number) => 92 + (mm / IN) * 26;
  const y = (mm: number) => 40 + (mm / IN) * 30;
  const arc = (points: Schemas["ArcPoint"][]) =>
    points.map((p, i) => `${i === 0 ? "M" : "L"}${x(p.x_mm).toFixed(1)} ${y(p.drop_mm).toFixed(1)}`).join("");
  return (
    <svg
      viewBox="0 0 530 214"
      style={{ width: "100%", maxHeight: 230 }}
      role="img"
      aria-label={
        stream ? `Stream ${stream.level.shown.text}, ${stream.level.word}` : "Gun, no stream seen yet"
      }
    >
      {stream && (
        <rect
          x={x(stream.band_lo_mm)}
          y={6}
          width={x(stream.band_hi_mm) - x(stream.band_lo_mm)}
          height={164}
          fill="var(--wash)"
        />
      )}
      {stream &&
        [stream.band_lo_mm, stream.band_hi_mm].map((mm) => (
          <path key={mm} d={`M${x(mm)} 6V170`} stroke="var(--ink)" strokeWidth="2" />
        ))}
      {stream && (
        <path
          d={arc(stream.shortest)}
          fill="none"
          stroke="var(--slate)"
          strokeWidth="2"
          strokeDasharray="5 5"
        />
      )}
      {stream && (
        <path
          d={arc(stream.longest)}
          fill="none"
          stroke="var(--slate)"
          strokeWidth="2"
          strokeDasharray="5 5"
        />
      )}
      {stream && (
        <path
          d={arc(stream.arc)}
          fill="none"
          stroke="var(--verdigris)"
          strokeWidth="6"
          strokeLinecap="round"
        />
      )}
      <path
        d="M20 26 H76 L92 34 V46 L76 54 H56 L46 104 H26 L34 54 H20 Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M92 180H508" stroke="var(--ink)" strokeWidth="2.5" />
      {Array.from({ length: 17 }, (_, i) => (
        <g key={i}>
          <path d={`M${92 + i * 26} 180v${i % 2 ? 6 : 12}`} stroke="var(--ink)" strokeWidth="2" />
          {i % 2 === 0 && (
            <text x={92 + i * 26} y="208" fontSize="15" textAnchor="middle" fill="var(--slate)">
              {i}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}
