// The waterline: six floats on one line. Above: done. Across: in work. Below: on hold. Outline: not reached.
import type { Schemas } from "../api/client";
import { called, useWords } from "../api/forms";

type Station = Schemas["Station"];

export type FloatState = Station["state"];

export function Float({ state, x, y, r }: { state: FloatState; x: number; y: number; r: number }) {
  const ink = "var(--ink)";
  switch (state) {
    case "done":
      return (
        <g>
          <circle cx={x} cy={y - r * 0.95} r={r * 0.95} fill="var(--verdigris)" />
          {r > 8 && (
            <path
              d={`M${x - r * 0.4} ${y - r * 0.95} l${r * 0.3} ${r * 0.32} l${r * 0.5} ${-r * 0.6}`}
              fill="none"
              stroke="var(--ground)"
              strokeWidth={2.4}
            />
          )}
        </g>
      );
    case "in_work":
      return (
        <g>
          <ellipse
            cx={x}
            cy={y}
            rx={r * 1.35}
            ry={r * 1.15}
            fill="var(--ground)"
            stroke={ink}
            strokeWidth={2.5}
          />
          <path d={`M${x - r} ${y} a${r} ${r * 0.85} 0 0 0 ${2 * r} 0 z`} fill="var(--verdigris)" />
        </g>
      );
    case "hold":
    case "stop":
      return (
        <path
          d={`M${x - r} ${y + 1} h${2 * r} v${r * 0.55} l${-r} ${r * 0.65} l${-r} ${-r * 0.65} z`}
          fill="var(--oxide)"
          stroke={state === "stop" ? ink : "none"}
          strokeWidth={3}
        />
      );
    case "not_needed":
      return <rect x={x - r * 1.6} y={y - 4} width={r * 3.2} height={8} fill="var(--ground)" />;
    default:
      return (
        <circle
          cx={x}
          cy={y}
          r={r}
          fill="var(--ground)"
          stroke="var(--slate)"
          strokeWidth={1.5}
          strokeDasharray="4 3"
        />
      );
  }
}

export function Waterline({
  stations,
  open,
  onOpen,
}: {
  stations: Station[];
  open: number;
  onOpen: (no: number) => void;
}) {
  const words = useWords();
  return (
    <div className="waterline" role="tablist" aria-label="Stations">
      <div className="sea" />
      {stations.map((s) => (
        <button
          key={s.no}
          type="button"
          role="tab"
          aria-selected={s.no === open}
          className={`station-tab ${s.no === open ? "open" : ""}`}
          onClick={() => onOpen(s.no)}
        >
          <svg width="52" height="44" viewBox="0 0 52 44" aria-hidden>
            <Float state={s.state} x={22} y={23} r={s.no === open ? 15 : 10} />
          </svg>
          <span className="name">
            <span className="no">{s.no} </span>
            {s.name}
            <span className="unseen">, {called(words.station_state, s.state)}</span>
          </span>
          <div className="line ellipsis">{s.line || "\u00a0"}</div>
        </button>
      ))}
    </div>
  );
}

/** The same line, small and without words, for lists. */
export function SmallWaterline({ stations }: { stations: Station[] }) {
  const words = useWords();
  const told = stations.map((s) => `${s.name} ${called(words.station_state, s.state)}`).join(", ");
  return (
    <svg width="156" height="34" viewBox="0 0 156 34" role="img" aria-label={told}>
      <path d="M2 19H154" stroke="var(--ink)" strokeWidth="2" />
      {stations.map((s, i) => (
        <Float key={s.no} state={s.state} x={14 + i * 25.5} y={19} r={s.state === "in_work" ? 7 : 6} />
      ))}
    </svg>
  );
}
