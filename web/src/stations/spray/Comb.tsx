// The comb gauge: tap the last wetted tooth.
import { useState } from "react";
import type { Schemas } from "../../api/client";

export function Comb({
  spray,
  tooth,
  onTooth,
}: {
  spray: Schemas["SprayView"];
  tooth: number | null;
  onTooth: (um: number) => void;
}) {
  const most = Math.max(0, spray.teeth.length - 10);
  const [from, setFrom] = useState(Math.min(most, Math.max(0, spray.aim_at - 4)));
  const shown = spray.teeth.slice(from, from + 10);
  const longest = spray.teeth[spray.teeth.length - 1]?.tooth_um ?? 1;
  return (
    <div className="comb" role="group" aria-label="Comb gauge">
      <button
        type="button"
        className="move"
        aria-label="finer teeth"
        disabled={from === 0}
        onClick={() => setFrom(Math.max(0, from - 5))}
      >
        ‹
      </button>
      {shown.map((t) => (
        <button
          key={t.tooth_um}
          type="button"
          className={`tooth ${tooth !== null && t.tooth_um <= tooth ? "wet" : ""}`}
          aria-pressed={tooth === t.tooth_um}
          aria-label={t.shown.text}
          onClick={() => onTooth(t.tooth_um)}
        >
          <div className="face mono">{t.shown.figure.replace(/[.,]0$/, "")}</div>
          <div className="leg" style={{ height: 52 - (36 * t.tooth_um) / longest }} />
        </button>
      ))}
      <button
        type="button"
        className="move"
        aria-label="coarser teeth"
        disabled={from >= most}
        onClick={() => setFrom(Math.min(most, from + 5))}
      >
        ›
      </button>
    </div>
  );
}
