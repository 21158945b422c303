// Surface over time above the line under which the work holds: dew point and the sheet's margin.
import type { Schemas } from "../../api/client";
import { shopTime } from "../../ui/clock";
import { Picture } from "../../ui/Picture";

const WIDE = 460;
const HIGH = 96;

export function HistoryPicture({ history, zone }: { history: Schemas["History"]; zone: string }) {
  const x = (v: number) => 46 + v * (WIDE - 60);
  const y = (v: number) => HIGH - 16 - v * (HIGH - 26);
  const line = (pick: (p: Schemas["HistoryPoint"]) => number | null | undefined) =>
    history.points
      .map((p) => [p.x, pick(p)] as const)
      .filter((p): p is [number, number] => typeof p[1] === "number")
      .map(([px, py]) => `${x(px)},${y(py)}`)
      .join(" ");
  const least = line((p) => p.least ?? null);
  const first = history.points[0];
  const last = history.points.at(-1);
  if (!first || !last) return null;
  return (
    <Picture
      className="history"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      aria-label="Surface over time above the line under which the work holds"
    >
      {least && (
        <polygon
          points={`${least} ${x(last.x)},${y(0)} ${x(first.x)},${y(0)}`}
          fill="var(--vial)"
          stroke="none"
        />
      )}
      <polyline points={least} fill="none" stroke="var(--oxide)" strokeWidth="2" strokeDasharray="7 4" />
      <polyline points={line((p) => p.dew)} fill="none" stroke="var(--slate)" strokeWidth="1.5" />
      <polyline points={line((p) => p.surface)} fill="none" stroke="var(--ink)" strokeWidth="3" />
      {history.points.map((p) => (
        <circle key={p.at} cx={x(p.x)} cy={y(p.surface)} r="4" fill="var(--ink)" />
      ))}
      <text x="2" y={y(1) + 5} className="tick-text">
        {history.top.text}
      </text>
      <text x="2" y={y(0)} className="tick-text">
        {history.bottom.text}
      </text>
      <text x={x(0)} y={HIGH - 2} className="tick-text">
        {shopTime(history.from, zone)}
      </text>
      <text x={WIDE - 14} y={HIGH - 2} textAnchor="end" className="tick-text">
        {shopTime(history.to, zone)}
      </text>
      <text x={WIDE / 2} y={HIGH - 2} textAnchor="middle" className="tick-text">
        surface · least · dew
      </text>
    </Picture>
  );
}
