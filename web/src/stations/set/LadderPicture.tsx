// The bursts on the paper so far, each with its pressure: the newest last.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";
import { Drawn } from "./Patterns";

/** Bursts that fit beside each other. */
const MOST = 5;

export function LadderPicture({ set }: { set: Schemas["SetView"] }) {
  const seen = set.set_ups.filter((t) => t.pattern_is).slice(-MOST);
  const wide = 500 / Math.max(seen.length, 3);
  return (
    <Picture
      viewBox="0 0 530 176"
      style={{ width: "100%", maxHeight: 190 }}
      aria-label={`Bursts so far: ${seen.map((t) => `${t.pattern ?? ""} at ${t.pot?.text ?? "no pressure"}`).join(", ")}`}
    >
      <path d="M10 8H520V140H10Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2" />
      {seen.map((t, i) => (
        <g key={t.entry}>
          <g transform={`translate(${15 + wide * (i + 0.5) - 39} 18) scale(1.3)`}>
            <Drawn pattern={String(t.pattern_is)} />
          </g>
          <text x={15 + wide * (i + 0.5)} y={162} textAnchor="middle" fill="var(--ink)" className="mono">
            {t.pot?.text}
          </text>
        </g>
      ))}
    </Picture>
  );
}
