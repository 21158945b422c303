// The pots on a line of time: mixed, inducting, sprayed, and the last call that must not be reached.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";

const ROW = 34;

export function PotLine({ pots }: { pots: Schemas["PlannedPotView"][] }) {
  const shown = pots.slice(0, 8);
  const x = (part: number) => 96 + part * 410;
  return (
    <Picture
      viewBox={`0 0 520 ${shown.length * ROW + 8}`}
      style={{ width: "100%", maxHeight: 290 }}
      aria-label={shown.map((p, i) => `Pot ${i + 1}: ${p.amount.text}, mix ${p.mix_by}`).join("; ")}
    >
      {shown.map((p, i) => {
        const y = 6 + i * ROW;
        return (
          <g key={p.mix_by + String(i)}>
            <text x="0" y={y + 16} fontWeight="700" fill="var(--ink)">
              {i + 1} · {p.amount.text}
            </text>
            <rect
              x={x(p.mixed_x)}
              y={y + 4}
              width={x(p.from_x) - x(p.mixed_x)}
              height="14"
              fill="var(--ring)"
            />
            <rect
              x={x(p.from_x)}
              y={y + 4}
              width={Math.max(2, x(p.to_x) - x(p.from_x))}
              height="14"
              fill="var(--verdigris)"
            />
            {typeof p.last_call_x === "number" && (
              <path
                d={`M${x(p.last_call_x)} ${y} v22`}
                stroke="var(--oxide)"
                strokeWidth="3"
                strokeDasharray="4 3"
              />
            )}
            <text x={Math.min(x(p.mixed_x), 300)} y={y + 31} fill="var(--slate)">
              mix {p.mix_by}
            </text>
          </g>
        );
      })}
    </Picture>
  );
}
