// A figure of finished batches, week by week: where the plan lies is a waterline, each week a dot as large as its batches are many.
import type { Schemas } from "../api/client";

const WIDE = 150;
const HIGH = 40;
const EDGE = 6;

export function TrendPicture({ line }: { line: Schemas["TrendLine"] }) {
  const x = (at: number) => EDGE + at * (WIDE - 2 * EDGE);
  const y = (at: number) => HIGH - EDGE - at * (HIGH - 2 * EDGE);
  const { points, planned_y } = line;
  if (points.length === 0) return <span className="slate small">not measured</span>;
  const last = points.at(-1);
  const told = points.map((p) => `week of ${p.week} ${p.figure}`).join(", ");
  return (
    <div className="trend">
      <svg
        viewBox={`0 0 ${String(WIDE)} ${String(HIGH)}`}
        role="img"
        aria-label={`${line.name}: ${line.word}. ${told}`}
      >
        {typeof planned_y === "number" && (
          <line className="planned" x1={0} x2={WIDE} y1={y(planned_y)} y2={y(planned_y)} />
        )}
        <polyline
          className="way"
          points={points.map((p) => `${String(x(p.x))},${String(y(p.y))}`).join(" ")}
        />
        {points.map((p) => (
          <circle
            key={p.week}
            className={p === last ? "dot last" : "dot"}
            cx={x(p.x)}
            cy={y(p.y)}
            r={Math.min(1.8 + 0.5 * Math.sqrt(p.count), 4.5)}
          />
        ))}
      </svg>
      <span>
        <b className="mono nowrap">{line.mean}</b>{" "}
        <span className={line.moves ? "word-tell small" : "slate small"}>{line.word}</span>
      </span>
    </div>
  );
}
