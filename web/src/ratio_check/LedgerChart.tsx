// The ledger drawn inside a vial: its walls are the tolerance, dashed lines the control limits of a regime, a catch as long as its
// scale leaves it in doubt. Places come from the server; many catches are a few paths, so that ten thousand draw as ten do.
import type { Schemas } from "../api/client";
import { Picture } from "../ui/Picture";

type Chart = Schemas["Chart"];
type Point = Schemas["ChartPoint"];

const LEFT = 56;
const WIDE = 690;
const TOP = 24;
const HIGH = 190;
const RANGES = 234;
const RANGES_HIGH = 26;

const x = (at: number) => LEFT + at * WIDE;
const y = (at: number) => TOP + (1 - at) * HIGH;
const dot = (n: number) => n.toFixed(1);

/** Catches of one verdict as one path of upright strokes. */
const strokes = (points: Point[]) =>
  points.map((p) => `M${dot(x(p.x))} ${dot(y(p.lo))}V${dot(Math.min(y(p.hi), y(p.lo) - 0.1))}`).join("");

const TONES = [
  ["in", "var(--verdigris)", (p: Point) => p.verdict === "in"],
  ["cannot tell", "var(--ochre)", (p: Point) => p.verdict === "cannot_tell"],
  ["out", "var(--oxide)", (p: Point) => p.verdict === "low" || p.verdict === "high"],
] as const;

export function LedgerChart({ chart }: { chart: Chart }) {
  const { wall_low: low, wall_high: high } = chart;
  const caught = chart.points.filter((p) => p.kind === "two_catches");
  const marks = chart.points.filter((p) => p.kind !== "two_catches");
  const thick = Math.max(2, Math.min(10, (WIDE / Math.max(1, caught.length)) * 0.5));
  const label = `${caught.length} catches between ${chart.least.text} and ${chart.most.text}; ${chart.said
    .map((s) => s.title)
    .join(" ")}`;
  return (
    <Picture viewBox="0 0 760 282" className="ledger-chart" aria-label={label}>
      <rect
        x={LEFT}
        width={WIDE}
        y={y(high)}
        height={y(low) - y(high)}
        rx="14"
        fill="var(--vial)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <text x={LEFT - 6} y={y(high) + 5} textAnchor="end" className="mono" fill="var(--slate)">
        {chart.most.figure}
      </text>
      <text x={LEFT - 6} y={y(low) + 5} textAnchor="end" className="mono" fill="var(--slate)">
        {chart.least.figure}
      </text>
      {chart.regimes.map((r, i) => (
        <Regime key={i} regime={r} first={i === 0} />
      ))}
      {chart.trend && <Trend band={chart.trend.band as unknown as [number, number, number, number][]} />}
      {TONES.map(([word, colour, is]) => (
        <path
          key={word}
          d={strokes(caught.filter(is))}
          stroke={colour}
          strokeWidth={thick}
          strokeLinecap="round"
          fill="none"
        />
      ))}
      {marks.map((p) => (
        <Mark key={p.entry} point={p} />
      ))}
      {caught
        .filter((p) => p.fired)
        .slice(-40)
        .map((p) => (
          <circle
            key={p.entry}
            cx={x(p.x)}
            cy={y(p.y)}
            r={thick * 0.5 + 6}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="2"
          />
        ))}
      {typeof chart.due_x === "number" && <Due at={chart.due_x} />}
      <path d={`M${LEFT} ${RANGES + RANGES_HIGH}H${LEFT + WIDE}`} stroke="var(--rule)" strokeWidth="1.5" />
      <path
        d={`M${LEFT} ${RANGES + RANGES_HIGH / 3}H${LEFT + WIDE}`}
        stroke="var(--slate)"
        strokeWidth="1"
        strokeDasharray="3 4"
      />
      <path
        d={chart.ranges
          .map(
            (r) => `M${dot(x(r.x))} ${RANGES + RANGES_HIGH}V${dot(RANGES + RANGES_HIGH - r.y * RANGES_HIGH)}`,
          )
          .join("")}
        stroke="var(--slate)"
        strokeWidth={Math.min(thick, 5)}
        fill="none"
      />
      <text x={LEFT} y={278} fill="var(--slate)">
        {`${chart.along} · beneath: from one catch to the next, its limit dashed`}
      </text>
    </Picture>
  );
}

function Regime(props: { regime: Schemas["ChartRegime"]; first: boolean }) {
  const { regime: r, first } = props;
  const limit = (at: number | null | undefined) =>
    typeof at === "number" && (
      <path
        d={`M${dot(x(r.from))} ${dot(y(at))}H${dot(x(r.to))}`}
        stroke="var(--ink)"
        strokeWidth="1.5"
        strokeDasharray="6 5"
      />
    );
  return (
    <g>
      {!first && (
        <path
          d={`M${dot(x(r.from))} ${TOP - 4}V${TOP + HIGH + 6}`}
          stroke="var(--ink)"
          strokeWidth="2"
          strokeDasharray="2 5"
        />
      )}
      <text x={x(r.from) + 6} y={16} fill="var(--slate)">
        {short(r.title, (r.to - r.from) * WIDE)}
      </text>
      {limit(r.lo)}
      {limit(r.hi)}
    </g>
  );
}

/** As much of a title as its room holds. */
function short(title: string, room: number) {
  const most = Math.floor(room / 6.6);
  return title.length <= most ? title : most < 8 ? "" : `${title.slice(0, most - 1)}…`;
}

function Trend({ band }: { band: [number, number, number, number][] }) {
  const edge = (of: 1 | 3) => band.map((b) => `${dot(x(b[0]))},${dot(y(b[of]))}`);
  return (
    <g>
      <polygon points={[...edge(3), ...edge(1).reverse()].join(" ")} fill="var(--ochre)" opacity="0.2" />
      <polyline
        points={band.map((b) => `${dot(x(b[0]))},${dot(y(b[2]))}`).join(" ")}
        fill="none"
        stroke="var(--ochre)"
        strokeWidth="2.5"
      />
    </g>
  );
}

function Due({ at }: { at: number }) {
  return (
    <g>
      <path d={`M${dot(x(at))} ${TOP}V${TOP + HIGH}`} stroke="var(--oxide)" strokeWidth="3" />
      <text x={x(at) - 6} y={TOP + HIGH + 14} textAnchor="end" fontWeight="700" fill="var(--oxide)">
        check by here
      </text>
    </g>
  );
}

/** A pot as weighed is a hollow square, a whole run a hollow diamond. */
function Mark({ point }: { point: Point }) {
  const [cx, cy] = [x(point.x), y(point.y)];
  const d =
    point.kind === "whole_run"
      ? `M${cx - 8} ${cy}L${cx} ${cy - 8}L${cx + 8} ${cy}L${cx} ${cy + 8}Z`
      : `M${cx - 6} ${cy - 6}h12v12h-12Z`;
  return (
    <g stroke="var(--ink)" fill="none">
      <path d={`M${cx} ${y(point.lo)}V${y(point.hi)}`} strokeWidth="1.5" />
      <path d={d} fill="var(--ground)" strokeWidth="2.5" />
    </g>
  );
}
