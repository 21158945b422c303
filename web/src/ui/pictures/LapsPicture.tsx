// Laps in section before anything is reckoned: each pass lies over half of the one before.
import { Picture } from "../Picture";

/** A fan that fades from its middle, `at` its left edge. */
const fan = (at: number) => `M${at} 150Q${at + 50} 150 ${at + 80} 96Q${at + 110} 150 ${at + 160} 150Z`;

export function LapsPicture() {
  return (
    <Picture
      viewBox="0 0 530 190"
      style={{ width: "100%", maxHeight: 200 }}
      aria-label="Passes in section, each over half of the one before"
    >
      {[60, 140, 220, 300].map((at) => (
        <path
          key={at}
          d={fan(at)}
          fill="var(--verdigris)"
          opacity="0.35"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ))}
      <path d="M30 150H500" stroke="var(--ink)" strokeWidth="4" />
      <path d="M140 60H300M140 52V68M300 52V68" stroke="var(--slate)" strokeWidth="2" />
      <text x="220" y="48" textAnchor="middle" fill="var(--ink)">
        the fan
      </text>
      <path d="M220 84H300M220 76V92M300 76V92" stroke="var(--ochre)" strokeWidth="2.5" />
      <text x="308" y="90" fill="var(--ink)">
        overlap
      </text>
      <text x="30" y="176" fill="var(--slate)">
        four of the five figures give the fifth, and the film in section
      </text>
    </Picture>
  );
}
