// The level: a spirit-level vial lying flat. Position and word say the state; colour only says it a third time.
import type { Level as LevelData } from "../api/client";

function tone(level: LevelData) {
  if (!level.verdict) return "";
  if (level.verdict === "in") return "in";
  return level.verdict === "cannot_tell" ? "tell" : "out";
}

export function Level({ level, size = "normal" }: { level: LevelData; size?: "big" | "normal" | "list" }) {
  const middle = level.off < 0 ? 0.03 : level.off > 0 ? 0.97 : (level.from + level.to) / 2;
  const width = level.off === 0 ? (level.to - level.from) * 100 : 0;
  const kind = tone(level);
  const text = `${level.label} ${level.shown.text}, ${level.word}${level.advice ? `, ${level.advice}` : ""}`;
  return (
    <div className={`level ${size}`}>
      <div
        className="vial-box"
        role="meter"
        aria-label={level.label || "level"}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(middle * 100)}
        aria-valuetext={text}
      >
        <div className="vial">
          <div
            className={`bubble ${kind}`}
            style={{ left: `${middle * 100}%`, width: `max(12px, ${width}%)` }}
          />
          {level.off < 0 && (
            <span className="chevron" style={{ left: 22 }}>
              ‹
            </span>
          )}
          {level.off > 0 && (
            <span className="chevron" style={{ right: 22 }}>
              ›
            </span>
          )}
        </div>
        {level.hairlines.map((h) => (
          <div key={String(h.low)}>
            <div className="hair" style={{ left: `${h.at * 100}%` }} />
            {size !== "list" && (
              <span
                className={`hair-figure mono ${h.low ? "low" : "high"}`}
                style={{ left: `${h.at * 100}%` }}
              >
                {h.figure}
              </span>
            )}
          </div>
        ))}
      </div>
      <div className="figure" aria-hidden>
        {size !== "list" && level.label && <div className="label">{level.label}</div>}
        <b className="mono">{level.shown.figure}</b> <span className="nowrap">{level.shown.unit}</span>{" "}
        <span className={`nowrap word-${kind || "none"}`}>{level.word}</span>
        {size !== "list" && level.advice && <div className="small slate">{level.advice}</div>}
      </div>
    </div>
  );
}
