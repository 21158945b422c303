// What the pattern on the paper looks like, drawn: chosen by looking, not by reading.
import type { Schemas } from "../../api/client";

export function Patterns({
  of,
  value,
  set,
}: {
  of: Schemas["PatternView"][];
  value: Schemas["Pattern"] | "";
  set: (pattern: Schemas["Pattern"] | "") => void;
}) {
  return (
    <div className="patterns" role="radiogroup" aria-label="Pattern">
      {of.map(({ pattern: key, word }) => (
        <button
          key={key}
          type="button"
          role="radio"
          aria-checked={value === key}
          name={`pattern-${key}`}
          className={value === key ? "now" : ""}
          onClick={() => set(value === key ? "" : key)}
        >
          <svg viewBox="0 0 60 84" aria-hidden>
            <Drawn pattern={key} />
          </svg>
          <span className="small">{word}</span>
        </button>
      ))}
    </div>
  );
}

/** A pattern as it stands on the paper, sixty by eighty-four. */
export function Drawn({ pattern }: { pattern: string }) {
  const paint = { fill: "var(--verdigris)" } as const;
  const fingers = (y: number, way: number) =>
    [-9, 0, 9].map((x) => <ellipse key={`${x}${y}`} cx={30 + x} cy={y + way * 7} rx="3" ry="8" {...paint} />);
  switch (pattern) {
    case "round_fingers":
      return (
        <>
          <circle cx="30" cy="42" r="17" {...paint} />
          {fingers(24, -1)}
          {fingers(60, 1)}
        </>
      );
    case "oval_fingers":
      return (
        <>
          <ellipse cx="30" cy="42" rx="14" ry="26" {...paint} />
          {fingers(14, -1)}
          {fingers(70, 1)}
        </>
      );
    case "heavy_middle":
      return (
        <>
          <ellipse cx="30" cy="42" rx="14" ry="38" {...paint} opacity="0.35" />
          <ellipse cx="30" cy="42" rx="13" ry="15" {...paint} />
        </>
      );
    case "heavy_ends":
      return (
        <>
          <ellipse cx="30" cy="42" rx="13" ry="36" {...paint} opacity="0.55" />
          <ellipse cx="30" cy="14" rx="12" ry="9" {...paint} />
          <ellipse cx="30" cy="70" rx="12" ry="9" {...paint} />
        </>
      );
    case "even":
      return <ellipse cx="30" cy="42" rx="14" ry="38" {...paint} />;
    case "fog":
      return (
        <>
          <ellipse cx="30" cy="42" rx="25" ry="41" {...paint} opacity="0.22" />
          <ellipse cx="30" cy="42" rx="14" ry="38" {...paint} opacity="0.8" />
        </>
      );
    default:
      return (
        <>
          <ellipse cx="30" cy="42" rx="14" ry="38" {...paint} opacity="0.45" />
          <path d="M30 4A14 38 0 0 0 30 80Z" {...paint} />
        </>
      );
  }
}
