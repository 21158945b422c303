// The coats of a part in section, this one filled: what lies beneath and what lies over it.
import type { Schemas } from "../api/client";

const LAYER = 9;
const MOST = 4;

export function CoatStack({ coat, beside }: { coat: string; beside: Schemas["CoatBeside"][] }) {
  const under = beside.filter((b) => !b.over).slice(-MOST);
  const over = beside.filter((b) => b.over).slice(0, MOST);
  const layers = [...under.map(() => false), true, ...over.map(() => false)];
  const high = 40;
  return (
    <svg
      width="56"
      height={high}
      viewBox={`0 0 56 ${high}`}
      role="img"
      aria-label={`${coat}, ${under.length} beneath, ${over.length} over it`}
    >
      <path d={`M2 ${high - 8}h52v7H2z`} fill="var(--vial)" stroke="var(--ink)" strokeWidth="1.5" />
      {layers.slice(0, MOST).map((own, i) => (
        <path
          key={i}
          d={`M2 ${high - 8 - (i + 1) * (LAYER - 1.5)}h52v${LAYER - 1.5}H2z`}
          fill={own ? "var(--verdigris)" : "none"}
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
      ))}
    </svg>
  );
}
