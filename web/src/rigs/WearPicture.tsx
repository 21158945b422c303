// How a tip wore: each catch over the kilograms sprayed since the first, with the lines at which it is watched and replaced.
import type { Schemas } from "../api/client";
import { Picture } from "../ui/Picture";

type Wear = Schemas["WearView"];

const LEFT = 138;
const RIGHT = 500;
const TOP = 18;
const FOOT = 176;

export function WearPicture({ wear }: { wear: Wear }) {
  const points = wear.points ?? [];
  const last = points.at(-1);
  if (!last || points.length < 2) return null;
  const watch = wear.watch_pct ?? 0;
  const replace = wear.replace_pct ?? 0;
  const most = Math.max(replace * 1.2, ...points.map((p) => p.hi_pct));
  const least = Math.min(0, ...points.map((p) => p.lo_pct));
  // Without anything sprayed in between the catches stand one after another.
  const far = Math.max(...points.map((p) => p.kg));
  const x = (i: number, kg: number) =>
    LEFT + (RIGHT - LEFT - 60) * (far > 0 ? kg / far : i / (points.length - 1));
  const y = (pct: number) => FOOT - ((FOOT - TOP) * (pct - least)) / (most - least);
  const said = points.map((p) => `${p.over.text} over new after ${p.sprayed.text}`).join("; ");
  return (
    <Picture viewBox="0 0 520 216" aria-label={`Wear of the tip: ${said}`}>
      <line x1={LEFT} x2={RIGHT} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth="2" />
      {(
        [
          [watch, "watch it", "var(--ochre)"],
          [replace, "replace it", "var(--oxide)"],
        ] as const
      ).map(([pct, word, colour]) => (
        <g key={word}>
          <line
            x1={LEFT}
            x2={RIGHT}
            y1={y(pct)}
            y2={y(pct)}
            stroke={colour}
            strokeWidth="2"
            strokeDasharray="7 5"
          />
          <text x={LEFT - 8} y={y(pct) + 4} textAnchor="end" fill="var(--ink)">
            {`${word}, +${String(Math.round(pct))} %`}
          </text>
        </g>
      ))}
      <text x={LEFT - 8} y={y(0) + 4} textAnchor="end" fill="var(--slate)">
        as new
      </text>
      <polyline
        points={points.map((p, i) => `${x(i, p.kg)},${y(p.over_pct)}`).join(" ")}
        fill="none"
        stroke="var(--verdigris)"
        strokeWidth="3"
      />
      {points.map((p, i) => (
        <g key={p.at}>
          <line
            x1={x(i, p.kg)}
            x2={x(i, p.kg)}
            y1={y(p.lo_pct)}
            y2={y(p.hi_pct)}
            stroke="var(--verdigris)"
            strokeWidth="9"
            strokeLinecap="round"
          />
          <circle cx={x(i, p.kg)} cy={y(p.over_pct)} r="4" fill="var(--ground)" />
        </g>
      ))}
      <text x={LEFT} y={FOOT + 30} fill="var(--slate)">
        first catch
      </text>
      <text x={x(points.length - 1, last.kg)} y={FOOT + 30} textAnchor="middle" fill="var(--ink)">
        {far > 0 ? `${last.sprayed.text} sprayed` : "last catch"}
      </text>
      <text x={x(points.length - 1, last.kg) + 12} y={y(last.over_pct) + 4} fill="var(--ink)">
        {last.over.text}
      </text>
    </Picture>
  );
}
