// The clocks of a sheet over temperature: what is stated as dots, what is reckoned as a line, an estimate dashed.
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { curvesQuery } from "../api/queries";
import { Picture } from "../ui/Picture";

const WIDE = 300;
const HIGH = 130;

export function Curves({ id, edition }: { id: string; edition: number }) {
  const curves = useQuery(curvesQuery(id, edition)).data ?? [];
  if (curves.length === 0) return null;
  return (
    <fieldset>
      <legend>Its clocks over temperature, as they run the pots</legend>
      <div className="curves">
        {curves.map((c) => (
          <Curve key={c.name} curve={c} />
        ))}
      </div>
    </fieldset>
  );
}

export function Curve({ curve }: { curve: Schemas["CurveView"] }) {
  const x = (v: number) => 8 + v * (WIDE - 16);
  const y = (v: number) => HIGH - 24 - v * (HIGH - 60);
  const points = curve.points;
  const first = points[0];
  const last = points.at(-1);
  const stated = points.filter((p) => p.stated);
  const label = stated.map((p) => `${p.time} at ${p.at.text}`).join(", ");
  return (
    <figure>
      <figcaption className="label">{curve.name}</figcaption>
      <Picture viewBox={`0 0 ${WIDE} ${HIGH}`} aria-label={`${curve.name}: ${label}`}>
        <path d={`M8 ${HIGH - 22}H${WIDE - 8}`} stroke="var(--rule)" />
        {points.slice(1).map((p, i) => {
          const q = points[i] ?? p;
          return (
            <path
              key={p.x}
              d={`M${x(q.x)} ${y(q.y)}L${x(p.x)} ${y(p.y)}`}
              stroke="var(--verdigris)"
              strokeWidth="3"
              strokeDasharray={p.estimate || q.estimate ? "3 5" : undefined}
            />
          );
        })}
        {stated.map((p) => (
          <g key={p.x}>
            <circle cx={x(p.x)} cy={y(p.y)} r="5" fill="var(--ink)" />
            <text
              x={Math.min(Math.max(x(p.x), 34), WIDE - 34)}
              y={y(p.y) - 10}
              textAnchor="middle"
              className="tick-text strong"
            >
              {p.time}
            </text>
            <text
              x={Math.min(Math.max(x(p.x), 22), WIDE - 22)}
              y={HIGH - 6}
              textAnchor="middle"
              className="tick-text"
            >
              {p.at.text}
            </text>
          </g>
        ))}
        {stated.length === 1 && first && last && (
          <>
            <text x="8" y={HIGH - 6} className="tick-text">
              {first.at.text}
            </text>
            <text x={WIDE - 8} y={HIGH - 6} textAnchor="end" className="tick-text">
              {last.at.text}
            </text>
          </>
        )}
      </Picture>
    </figure>
  );
}
