// How a bonded piece parts, drawn from its side: strings, one side bare, wet with bubbles.
import type { Schemas } from "../../api/client";

export function BondPicture({ result }: { result: Schemas["BondResult"] }) {
  return (
    <svg viewBox="0 0 160 90" className="bond-seen" aria-hidden>
      <rect x="14" y="6" width="132" height="16" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
      <rect
        x="14"
        y="68"
        width="132"
        height="16"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      {result === "holds" && (
        <g stroke="var(--base)" strokeWidth="3" fill="none">
          {[26, 46, 66, 86, 106, 126].map((x) => (
            <path key={x} d={`M${x} 22Q${x + 8} 34 ${x + 3} 45T${x + 6} 68`} />
          ))}
          <path d="M18 25H142M18 65H142" strokeWidth="6" />
        </g>
      )}
      {result === "one_side_bare" && <path d="M18 64H142" stroke="var(--base)" strokeWidth="8" />}
      {result === "wet_bubbles" && (
        <g>
          <rect x="16" y="52" width="128" height="16" fill="var(--hardener)" />
          {[30, 52, 74, 96, 118, 134].map((x, i) => (
            <circle
              key={x}
              cx={x}
              cy={i % 2 ? 56 : 62}
              r={i % 3 ? 4 : 6}
              fill="var(--ground)"
              stroke="var(--ink)"
              strokeWidth="1.5"
            />
          ))}
        </g>
      )}
    </svg>
  );
}
