// The sheet at work while it is typed: a cup of it, its life over temperature, its film from wet to dry; what contradicts.
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { spread } from "../ui/spread";
import { Curve } from "./Curves";
import { labelOf } from "./fields";
import { Picture } from "../ui/Picture";

type Work = Schemas["AtWork"];

export function AtWork({ work, children }: { work: Work | undefined; children: ReactNode }) {
  const life = work?.clocks.find((c) => c.name === "Pot life") ?? work?.clocks[0];
  return (
    <aside className="at-work" aria-label="The sheet at work">
      <div className="at-work-two">
        <Litre cup={work?.cup ?? null} />
        {life ? <Curve curve={life} /> : <NoCurve />}
      </div>
      <Film film={work?.film ?? null} />
      {work && work.contradictions.length > 0 && (
        <ul className="against" role="alert" aria-label="Figures that contradict each other">
          {work.contradictions.map((c) => (
            <li key={c.field + c.other}>
              <b>
                {labelOf(c.field)} and {labelOf(c.other).toLowerCase()}:
              </b>{" "}
              {c.text}
            </li>
          ))}
        </ul>
      )}
      {children}
    </aside>
  );
}

const TOP = 14;
const DEEP = 126;

/** A cup of it in section; before the ratio is known, the empty cup. */
function Litre({ cup }: { cup: Work["cup"] | null }) {
  const y = (at: number) => TOP + DEEP - at * (DEEP - 22);
  const half = (at: number) => 44 + at * 9;
  const layers = cup?.layers ?? [];
  const rows = spread(
    layers.map((l, i) => ({ ...l, from: layers[i - 1]?.to ?? 0 })),
    (l) => y((l.from + l.to) / 2) + 5,
  );
  return (
    <figure>
      <figcaption className="label">{cup?.title ?? "A cup of it, once the ratio stands"}</figcaption>
      <Picture
        viewBox="0 0 300 150"
        aria-label={cup ? layers.map((l) => `${l.name} ${l.amount.text}`).join(", ") : "an empty cup"}
      >
        {rows.map((l) => (
          <g key={l.component}>
            <path
              d={`M${70 - half(l.from)} ${y(l.from)} L${70 - half(l.to)} ${y(l.to)} H${70 + half(l.to)} L${70 + half(l.from)} ${y(l.from)} Z`}
              fill={`var(--${l.component})`}
            />
            <path
              d={`M${70 + half(l.to)} ${y((l.from + l.to) / 2)} H136 L146 ${l.label_y - 5}`}
              stroke="var(--ink)"
              fill="none"
            />
            <text x="150" y={l.label_y} fill="var(--ink)">
              {l.name} <tspan fontWeight="700">{l.amount.text}</tspan>
            </text>
          </g>
        ))}
        <path
          d={`M14 ${TOP - 8} L26 ${TOP + DEEP} H114 L126 ${TOP - 8}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="3"
        />
      </Picture>
    </figure>
  );
}

function NoCurve() {
  return (
    <figure>
      <figcaption className="label">Its life over temperature, once it is stated</figcaption>
      <Picture viewBox="0 0 300 150" aria-label="no life stated yet">
        <path d="M14 10V128H290" fill="none" stroke="var(--ink)" strokeWidth="2" />
        <path
          d="M20 24Q110 108 286 118"
          fill="none"
          stroke="var(--rule)"
          strokeWidth="3"
          strokeDasharray="3 6"
        />
      </Picture>
    </figure>
  );
}

/** The film in section: what is wet, and what of it stays. */
function Film({ film }: { film: Work["film"] | null }) {
  const wet = 46;
  const dry = film ? wet * film.dry_part : 0;
  return (
    <figure>
      <figcaption className="label">
        {film ? film.text : "Its film from wet to dry, once solids and film stand"}
      </figcaption>
      <Picture viewBox="0 0 620 86" aria-label={film?.text ?? "no film stated yet"}>
        {film && (
          <>
            <rect x="2" y={60 - wet} width="290" height={wet} fill="var(--thinner)" />
            <rect x="2" y={60 - dry} width="290" height={dry} fill="var(--base)" opacity="0.55" />
            <rect x="328" y={60 - dry} width="290" height={dry} fill="var(--base)" />
            <text x="10" y={60 - wet - 4} className="tick-text strong">
              wet {film.wet.text}
            </text>
            <text x="336" y={60 - dry - 4} className="tick-text strong">
              dry {film.dry.text}
            </text>
            <path d="M298 38h20m-6 -6l6 6l-6 6" fill="none" stroke="var(--ink)" strokeWidth="2" />
          </>
        )}
        <rect x="2" y="60" width="616" height="22" fill="var(--panel)" stroke="var(--ink)" />
      </Picture>
    </figure>
  );
}
