// What a defect looks like: a film in section, or a panel seen from the front. Drawn by ourselves, one small picture each.
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";

export type Symptom = Schemas["Symptom"];

const line = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 } as const;
const film = { fill: "var(--base)", stroke: "var(--ink)", strokeWidth: 2 } as const;
const bare = { fill: "var(--vial)", stroke: "var(--ink)", strokeWidth: 2 } as const;
const ink = { fill: "var(--ink)" } as const;

/** A film on what it was put on, in section. */
const slab = (top: string, more?: ReactNode) => (
  <>
    <path d={`M4 34 ${top} V34Z`} {...film} />
    <path d="M4 34h56v10H4z" {...bare} />
    {more}
  </>
);
/** A panel seen from the front. */
const panel = (more: ReactNode) => (
  <>
    <path d="M6 4h52v40H6z" {...film} />
    {more}
  </>
);
const FLAT = "V20 H60";
const dots = (of: [number, number, number][]) =>
  of.map(([x, y, r]) => <circle key={`${x} ${y}`} cx={x} cy={y} r={r} {...ink} />);

const DRAWN: Record<Symptom, ReactNode> = {
  porosity: slab(
    FLAT,
    dots([
      [10, 25, 1.4],
      [15, 30, 1.4],
      [20, 23, 1.4],
      [26, 29, 1.4],
      [32, 24, 1.4],
      [38, 30, 1.4],
      [43, 25, 1.4],
      [49, 29, 1.4],
      [55, 24, 1.4],
    ]),
  ),
  fish_eyes: panel(
    [
      [20, 16, 7],
      [44, 20, 6],
      [28, 34, 6],
    ].map(([x, y, r]) => (
      <g key={`${x}`}>
        <circle cx={x} cy={y} r={r} {...bare} />
        <circle cx={x} cy={y} r="1.8" {...ink} />
      </g>
    )),
  ),
  large_pits: slab("V20 H16 L19 32 L24 20 H40 L44 33 L49 20 H60"),
  sag: panel(
    <path d="M8 14 Q16 20 20 34 Q23 42 26 32 Q29 18 36 20 Q42 22 44 38 Q47 44 50 30 L56 14" {...line} />,
  ),
  coarse: slab("V22 Q8 15 12 22 T20 21 T28 23 T36 20 T44 23 T52 21 T60 22"),
  splatter: panel(
    dots([
      [18, 14, 5],
      [40, 12, 3],
      [30, 26, 6],
      [48, 32, 4],
      [16, 36, 3],
    ]),
  ),
  dry_spray: slab(
    "V26 H60",
    dots([
      [9, 22, 1.6],
      [16, 18, 1.6],
      [22, 22, 1.6],
      [29, 19, 1.6],
      [35, 22, 1.6],
      [42, 18, 1.6],
      [48, 22, 1.6],
      [55, 20, 1.6],
    ]),
  ),
  fingers: (
    <>
      <path d="M8 24 L50 8 V40Z" {...bare} />
      <path d="M14 22 L56 6 M14 26 L56 42" stroke="var(--ink)" strokeWidth="5" />
      <path d="M2 20h8v8H2z" {...film} />
    </>
  ),
  poor_cure: slab(
    "V20 H18 Q24 30 32 30 Q40 30 46 20 H60",
    <path d="M32 4 V22 M26 16 L32 23 L38 16" {...line} />,
  ),
  patchy_cure: slab(FLAT, <path d="M10 34 L20 20 M18 34 L26 22 M40 34 L50 20 M48 34 L56 23" {...line} />),
  blisters: slab(
    "V22 H10 Q17 8 24 22 H34 Q43 6 52 22 H60",
    <path d="M12 30 Q17 18 22 30 M37 30 Q43 16 49 30" {...line} />,
  ),
  peel: (
    <>
      <path d="M4 34h56v10H4z" {...bare} />
      <path d="M4 24 H34 Q52 24 50 6 L44 8 Q46 18 34 17 H4Z" {...film} />
    </>
  ),
  cracks: slab(
    FLAT,
    <path d="M16 20 L20 26 L15 30 L18 34 M36 20 L32 25 L38 29 L35 34 M52 20 L49 27 L53 34" {...line} />,
  ),
  bridged_gaps: (
    <>
      <path d="M4 24h22v20H4z M38 24h22v20H38z" {...bare} />
      <path d="M4 14 H60 V24 H38 Q32 19 26 24 H4Z" {...film} />
    </>
  ),
  ghosting: panel(
    <path d="M18 34 Q16 16 30 14 Q46 12 46 26 Q46 36 30 36Z" {...line} strokeDasharray="4 3" />,
  ),
  stripes: panel(
    <path
      d="M12 5v38 M22 5v38 M32 5v38 M42 5v38 M52 5v38"
      stroke="var(--ink)"
      strokeWidth="4"
      opacity="0.45"
    />,
  ),
  shade_steps: panel(<path d="M32 5h25v38H32z" fill="var(--ink)" opacity="0.4" />),
  ragged_tape: (
    <>
      <path d="M6 4h52v40H6z" {...bare} />
      <path d="M6 4 H34 L38 10 L31 14 L39 20 L33 25 L40 30 L32 35 L37 40 L34 44 H6Z" {...film} />
    </>
  ),
  early_gel: (
    <>
      <path d="M14 6 L18 44 H46 L50 6" {...line} />
      <path d="M16 22 Q22 14 28 21 T42 17 L48 22 L46 44 H18Z" {...film} />
      <path d="M24 30 l5 5 M34 26 l6 6 M28 40 l6 -4" {...line} />
    </>
  ),
  pulsing_fan: (
    <>
      <path d="M8 24 L54 4 V44Z" {...line} strokeDasharray="4 3" />
      <path d="M8 24 L44 14 V34Z" {...film} />
      <path d="M2 20h8v8H2z" {...bare} />
    </>
  ),
};

export function SymptomPicture({
  symptom,
  name,
  large,
}: {
  symptom: Symptom;
  name?: string;
  large?: boolean;
}) {
  return (
    <svg
      viewBox="0 0 64 48"
      width={large ? 128 : 56}
      height={large ? 96 : 42}
      {...(name ? { role: "img", "aria-label": name } : { "aria-hidden": true })}
    >
      {DRAWN[symptom]}
    </svg>
  );
}
