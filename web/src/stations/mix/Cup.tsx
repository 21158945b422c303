// The cup in section with its pour marks: what is in, and what is still to come.
import type { Schemas } from "../../api/client";
import { spread } from "../../ui/spread";
import { Picture } from "../../ui/Picture";

export function Cup({ marks }: { marks: Schemas["CupMark"][] }) {
  const height = 176;
  const y = (at: number) => 190 - at * height;
  const poured = marks.filter((m) => m.poured);
  const half = (at: number) => 92 + at * 18;
  const layer = (from: number, to: number, fill: string, key: string) => (
    <path
      key={key}
      d={`M${140 - half(from)} ${y(from)} L${140 - half(to)} ${y(to)} H${140 + half(to)} L${140 + half(from)} ${y(from)} Z`}
      fill={fill}
    />
  );
  const rows = spread(marks, (m) => y(m.at));
  return (
    <Picture
      viewBox="0 0 520 204"
      style={{ width: "100%", maxHeight: 190, minHeight: 150 }}
      aria-label={`Cup: ${marks.map((m) => m.label).join("; ")}`}
    >
      {poured.map((m, i) =>
        layer(i === 0 ? 0 : (poured[i - 1]?.at ?? 0), m.at, `var(--${m.component})`, m.component),
      )}
      {rows.map((m) => (
        <g key={`${m.component}${String(m.poured)}`}>
          <path
            d={`M${140 - half(m.at)} ${y(m.at)} H${140 + half(m.at) + 16} L276 ${m.label_y - 5}`}
            stroke="var(--ink)"
            strokeWidth={m.poured ? 1.5 : 2}
            strokeDasharray={m.poured ? undefined : "6 4"}
            fill="none"
          />
          <text x="282" y={m.label_y} fill="var(--ink)" fontWeight={m.poured ? 400 : 700}>
            {m.label}
          </text>
        </g>
      ))}
      <path
        d="M26 6 L48 190 q1 8 10 8 H222 q9 0 10 -8 L254 6"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3"
      />
    </Picture>
  );
}
