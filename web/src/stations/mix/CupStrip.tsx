// The cup with its marks, as it is printed.
import type { Schemas } from "../../api/client";
import { spread } from "../../ui/spread";
import { Picture } from "../../ui/Picture";

export function CupStrip({ cup }: { cup: Schemas["Marked"] }) {
  const { floor_mm, rim_mm, height_mm } = cup.cup;
  const scale = 180 / height_mm;
  const half = (width_mm: number) => (width_mm * scale) / 2;
  const y = (level: number) => 190 - level * scale;
  const rows = spread(cup.marks, (m) => y(m.level_mm));
  return (
    <Picture
      viewBox="0 0 520 200"
      style={{ width: "100%", maxHeight: 200 }}
      aria-label="The cup with its marks"
    >
      <path
        d={`M${140 - half(rim_mm)} ${y(height_mm)} L${140 - half(floor_mm)} ${y(0)} H${140 + half(floor_mm)} L${140 + half(rim_mm)} ${y(height_mm)}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3"
      />
      {rows.map((m) => (
        <g key={m.name}>
          <path
            d={`M${140 - half(m.width_mm)} ${y(m.level_mm)} H${150 + half(m.width_mm)} L272 ${m.label_y - 5}`}
            stroke="var(--ink)"
            strokeWidth="2"
            fill="none"
          />
          <text x="278" y={m.label_y} fill="var(--ink)">
            {m.name}, {m.level.text}
          </text>
        </g>
      ))}
    </Picture>
  );
}
