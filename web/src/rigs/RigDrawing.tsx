// A rig drawn as a line from supply to nozzle; under each piece fluid and air pressure once they are known.
import type { Schemas } from "../api/client";

const WIDE = 132;

/** `brief`: without the measures of each piece. */
export function RigDrawing({ points, brief }: { points: Schemas["LinePoint"][]; brief?: boolean }) {
  const width = points.length * WIDE;
  const x = (i: number) => i * WIDE + WIDE / 2;
  return (
    // It slides on a phone, so it can be reached by key.
    <div className="rig-line" role="group" aria-label="The rig, from supply to nozzle" tabIndex={0}>
      <svg
        viewBox={`0 0 ${width} 96`}
        role="img"
        aria-label={points
          .map(
            (p) =>
              `${p.name}${p.facts ? `, ${p.facts}` : ""}${p.kpa ? `, fluid ${p.kpa.text}` : ""}${p.air ? `, air ${p.air.text}` : ""}`,
          )
          .join("; ")}
      >
        <path d={`M${x(0)} 52H${x(points.length - 1)}`} stroke="var(--ink)" strokeWidth="3" />
        {points.map((p, i) => (
          <g key={p.is} transform={`translate(${x(i)} 52)`}>
            <Piece is={p.is} />
          </g>
        ))}
      </svg>
      <ol style={{ gridTemplateColumns: `repeat(${points.length}, minmax(0, 1fr))` }}>
        {points.map((p) => (
          <li key={p.is}>
            {p.kpa && <b className="mono">{p.kpa.text}</b>}
            {p.air && <span className="mono small">air {p.air.text}</span>}
            <span>{p.name}</span>
            {!brief && <span className="small slate">{p.facts}</span>}
          </li>
        ))}
      </ol>
    </div>
  );
}

function Piece({ is }: { is: string }) {
  const pen = { fill: "var(--ground)", stroke: "var(--ink)", strokeWidth: 2.5 } as const;
  switch (is) {
    case "supply":
      return <path d="M-26 -20H14L26 0L14 20H-26Z" {...pen} />;
    case "regulator":
      return (
        <>
          <circle r="19" {...pen} />
          <path d="M0 0L10 -11M-12 8A15 15 0 1 1 12 8" {...pen} fill="none" />
        </>
      );
    case "vessel":
      return (
        <>
          <path d="M-28 -30H28M-24 -30V22Q-24 32 -14 32H14Q24 32 24 22V-30" {...pen} />
          <path d="M-22 -4V20Q-22 30 -14 30H14Q22 30 22 20V-4Z" fill="var(--verdigris)" opacity="0.55" />
        </>
      );
    case "hose":
      return <path d="M-40 0q10 -26 20 0t20 0t20 0t20 0" {...pen} fill="none" strokeWidth="6" />;
    case "gun":
      return <path d="M-30 -16H20L28 -10V2L20 8H4L-4 36H-22L-14 8H-30Z" {...pen} />;
    default:
      return <path d="M-16 -14H2L18 0L2 14H-16Z" {...pen} />;
  }
}
