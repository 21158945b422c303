// A printed cup: its own lines, and those the pot is filled to.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";
import { spread } from "../../ui/spread";

export function CupPicture({ of }: { of: Schemas["CupLines"] }) {
  const y = (level: number) => 192 - level * 176;
  const half = (level: number) => 84 + level * 16;
  const rows = spread(of.lines, (l) => y(l.level));
  const poured = of.lines.filter((l) => l.poured);
  const floor = (i: number) => (i === 0 ? 0 : (poured[i - 1]?.level ?? 0));
  return (
    <Picture
      viewBox="0 0 520 206"
      style={{ width: "100%", maxHeight: 210, minHeight: 150 }}
      aria-label={`The cup: ${of.lines.map((l) => l.text).join("; ")}`}
    >
      {poured.map((l, i) => (
        <path
          key={l.component}
          d={`M${140 - half(floor(i))} ${y(floor(i))} L${140 - half(l.level)} ${y(l.level)} H${140 + half(l.level)} L${140 + half(floor(i))} ${y(floor(i))} Z`}
          fill={`var(--${l.component})`}
        />
      ))}
      {of.graduations.map((g, i) => (
        <path
          key={g}
          d={`M${140 - half(g)} ${y(g)} h${i % 5 === 4 ? 34 : 20}`}
          stroke="var(--slate)"
          strokeWidth="1.5"
        />
      ))}
      {rows.map((l) => (
        <g key={l.component}>
          <path
            d={`M${140 - half(l.level)} ${y(l.level)} H${150 + half(l.level)} L270 ${l.label_y - 5}`}
            stroke="var(--ink)"
            strokeWidth="2"
            strokeDasharray={l.poured ? undefined : "6 4"}
            fill="none"
          />
          <text x="276" y={l.label_y} fill="var(--ink)" fontWeight={l.poured ? 400 : 700}>
            {l.text}
          </text>
        </g>
      ))}
      <path
        d="M38 6 L56 192 q1 8 10 8 H214 q9 0 10 -8 L242 6"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3"
      />
    </Picture>
  );
}
