// Two supplies on their scale, before and after.
import { Picture } from "../../ui/Picture";

export function SuppliesPicture() {
  return (
    <Picture
      viewBox="0 0 530 200"
      style={{ width: "100%", maxHeight: 220 }}
      aria-label="Two supplies on a scale: full before the run, low after it"
    >
      {(
        [
          ["before", 30, 70],
          ["after", 290, 26],
        ] as const
      ).map(([word, at, full]) => (
        <g key={word} transform={`translate(${at} 0)`}>
          {(
            [
              ["A", 10, "var(--base)"],
              ["B", 116, "var(--hardener)"],
            ] as const
          ).map(([name, x, fill]) => (
            <g key={name}>
              <rect x={x + 3} y={130 - full} width={74} height={full} fill={fill} />
              <path d={`M${x} 40V132H${x + 80}V40`} fill="none" stroke="var(--ink)" strokeWidth="3" />
              <text x={x + 40} y={32} textAnchor="middle" fontWeight="700" fill="var(--ink)">
                {name}
              </text>
            </g>
          ))}
          <path d="M0 136H206M20 136V150H186V136" fill="none" stroke="var(--ink)" strokeWidth="3" />
          <text x="103" y="178" textAnchor="middle" fill="var(--slate)">
            {word}
          </text>
        </g>
      ))}
    </Picture>
  );
}
