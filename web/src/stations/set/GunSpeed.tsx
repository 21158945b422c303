// Gun speed and film: four of five given, the fifth solved; the laps in section, and which overlap suits the fan.
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { filledOf, useCompute } from "../../api/compute";
import type { StationProps } from "../../batch/station";
import { offered, useWords } from "../../api/forms";
import { Choice } from "../../ui/Choice";
import { Asked } from "../../ui/Asked";
import { LapsPicture } from "../../ui/pictures/LapsPicture";
import { WorkingSheet } from "../../ui/WorkingSheet";

export function GunSpeed({ view }: StationProps<"set">) {
  const words = useWords();
  const start = view.set.lap;
  const [form, setForm] = useState({
    flow_ml_min: start.flow ?? "",
    fan_mm: start.fan,
    overlap_pct: start.overlap,
    gun_speed_m_s: "",
    wet_um: start.wet,
    transfer_pct: start.transfer,
    card_outer_mm: "",
    card_full_mm: "",
  });
  const [profile, setProfile] = useState<Schemas["FanProfile"]>(start.profile);
  const { data, refusals, wrong } = useCompute(
    "laps",
    { lap: { transfer_pct: "", ...filledOf(form) }, profile, area_m2: view.set.area_m2 },
    (body) => ask(api.POST("/api/v1/compute/film/laps", { body })),
  );
  const field = (name: keyof typeof form, label: string, found?: string) => (
    <Asked
      form={form}
      set={setForm}
      name={name}
      label={label}
      hint={form[name].trim() === "" && found ? `= ${found}` : undefined}
      refusals={refusals}
    />
  );
  return (
    <>
      <div className="do">
        <span className="label">Leave one of the five empty: it is reckoned from the others</span>
        <div className="fields">
          {field("gun_speed_m_s", "Gun speed", data?.gun_speed.text)}
          {field("wet_um", "Wet film", data?.wet.text)}
          {field("flow_ml_min", "Flow", data?.flow.text)}
          {field("fan_mm", "Fan", data?.fan.text)}
          {field("overlap_pct", "Overlap", data?.overlap.text)}
          {field("transfer_pct", "Stays on the part")}
        </div>
        <span className="label">A sprayed card says how far this fan fades: its two widths</span>
        <div className="fields">
          {field("card_outer_mm", "Any paint over")}
          {field("card_full_mm", "In full over")}
        </div>
        <Choice
          name="profile"
          label="The fan"
          value={profile}
          set={setProfile}
          options={offered(words.fan_profile)}
          hint=" "
        />
        {data && (
          <p>
            Trigger pulled for the part: <b className="mono">{data.time ?? "–"}</b> a coat.
          </p>
        )}
        {wrong && <p className="refusal">{wrong}</p>}
      </div>
      <div className="see">
        {!data && <LapsPicture />}
        {data && (
          <>
            <span className="label">Laps in section, overlap {data.overlap.text}</span>
            <Section laps={data} />
            <p>
              Thickest less thinnest: <b className="mono">{data.ripple.text}</b> of the mean. This fan lies
              best at <b>{data.even_at.text}</b> overlap.
            </p>
            <p className="small">{data.words}</p>
            <div className="from-above">
              <FromAbove film={data.one_coat} word="One coat from above" uneven={data.spread.text} />
              <FromAbove film={data.cross_coat} word="With a cross coat" uneven={data.spread_crossed.text} />
            </div>
            <WorkingSheet working={data.working} last={1} />
          </>
        )}
      </div>
    </>
  );
}

function Section({ laps }: { laps: Schemas["LapView"] }) {
  const n = laps.section.length - 1;
  const most = Math.max(...laps.section, 1);
  const y = (v: number) => 120 - (v / most) * 96;
  const x = (i: number) => (i / n) * 500;
  const top = laps.section
    .map((v, i) => `${i === 0 ? "M" : "L"}${x(i).toFixed(1)} ${y(v).toFixed(1)}`)
    .join("");
  return (
    <svg
      viewBox="0 10 500 116"
      className="section"
      role="img"
      aria-label={`Section of the film, ripple ${laps.ripple.text}`}
    >
      <path d={`${top}L500 120L0 120Z`} fill="var(--verdigris)" opacity="0.55" />
      <path d={top} fill="none" stroke="var(--ink)" strokeWidth="2.5" />
      <path d={`M0 ${y(1)}H500`} stroke="var(--ink)" strokeDasharray="6 5" />
      <path d="M0 120H500" stroke="var(--ink)" strokeWidth="3" />
    </svg>
  );
}

/** The film seen from above: the more lies there, the darker. */
function FromAbove({ film, word, uneven }: { film: number[][]; word: string; uneven: string }) {
  const side = film.length;
  const all = film.flat();
  const [least, most] = [Math.min(...all, 0.5), Math.max(...all, 1.5)];
  return (
    <figure>
      <svg
        viewBox={`0 0 ${side} ${side}`}
        role="img"
        aria-label={`${word}: uneven by ${uneven}`}
        shapeRendering="crispEdges"
      >
        {film.map((row, y) =>
          row.map((v, x) => (
            <rect
              key={`${x} ${y}`}
              x={x}
              y={y}
              width="1"
              height="1"
              fill="var(--verdigris)"
              opacity={0.08 + (0.92 * (v - least)) / (most - least)}
            />
          )),
        )}
      </svg>
      <figcaption className="small">
        {word}: uneven by <b className="mono">{uneven}</b>
      </figcaption>
    </figure>
  );
}
