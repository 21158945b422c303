// What rig and paint give together: flow against pressure with the band and the trade's marks on it, and where the
// pressure goes. Measured and reckoned stand apart: this is reckoned.
import type { Schemas } from "../../api/client";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Picture } from "../../ui/Picture";

const W = 470;
const H = 106;

export function Modelled({ modelled }: { modelled: Schemas["Modelled"] }) {
  const { curve } = modelled;
  const x = (kpa: number) => (kpa / curve.most_kpa) * W;
  const y = (ml: number) => H - Math.min(1, ml / curve.most_ml_min) * H;
  const path = curve.points
    .map((p, i) => `${i === 0 ? "M" : "L"}${x(p.kpa).toFixed(1)} ${y(p.ml_min).toFixed(1)}`)
    .join("");
  const from = curve.marks.find((m) => m.is === "usual_from");
  const to = curve.marks.find((m) => m.is === "usual_to");
  return (
    <div>
      <span className="label">Reckoned: flow against pressure</span>
      <Picture
        viewBox={`-2 -14 512 ${H + 44}`}
        style={{ width: "100%", flex: "none" }}
        aria-label={`At ${modelled.at.text} ${modelled.flow.text}, stream ${modelled.stream.text}`}
      >
        <rect
          x="0"
          y={y(curve.band_hi_ml_min)}
          width={W}
          height={Math.max(2, y(curve.band_lo_ml_min) - y(curve.band_hi_ml_min))}
          fill="var(--wash)"
        />
        <text
          x={W + 4}
          y={(y(curve.band_hi_ml_min) + y(curve.band_lo_ml_min)) / 2 + 5}

          fill="var(--slate)"
        >
          band
        </text>
        {from && to && (
          <rect
            x={x(from.kpa)}
            y={H + 2}
            width={x(to.kpa) - x(from.kpa)}
            height="7"
            fill="var(--verdigris)"
          />
        )}
        {curve.marks.map((m) => (
          <g key={m.is}>
            <path
              d={`M${x(m.kpa)} ${m.is === "rating" ? 0 : H - 8}V${H + 8}`}
              stroke={m.is === "rating" ? "var(--oxide)" : "var(--ink)"}
              strokeWidth={m.is === "rating" ? 3 : 1.5}
            />
            <text
              x={x(m.kpa)}
              y={m.is === "rating" ? -3 : H + 24}

              textAnchor={m.is === "usual_from" ? "end" : "middle"}
              fill="var(--slate)"
            >
              {m.word}
            </text>
          </g>
        ))}
        <path d={`M0 0V${H}H${W}`} stroke="var(--ink)" strokeWidth="2" fill="none" />
        <path d={path} stroke="var(--verdigris)" strokeWidth="4" fill="none" />
        <text x={W} y={H + 24} textAnchor="end" fill="var(--slate)">
          {curve.most_pressure.unit}
        </text>
        <text x="4" y="-3" fill="var(--slate)">
          {curve.most_flow.text}
        </text>
      </Picture>
      <Reckoned modelled={modelled} />
      {modelled.rough && (
        <p className="word-tell">Where smooth and turbulent flow join: what is reckoned here is rough.</p>
      )}
      <Others word="The same flow through another nozzle" of={modelled.nozzles} />
      <Others word="Through another hose" of={modelled.hoses} />
      <WorkingSheet working={modelled.working} last={1} />
    </div>
  );
}

/** Which nozzle, which hose: the pressure the same flow takes, as bars; the fitted one filled. */
function Others({ word, of }: { word: string; of: Schemas["OtherPiece"][] }) {
  return (
    <div className="others">
      <span className="label">{word}</span>
      <ul>
        {of.map((o) => (
          <li key={o.size.text} className={o.fitted ? "now" : ""}>
            <b className="mono nowrap">{o.size.text}</b>
            <span className="mono nowrap">{o.kpa.text}</span>
            <span className={`small ${o.too_small ? "word-tell" : "slate"}`}>
              {o.fitted ? "fitted" : o.too_small ? "too small" : ""}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Where the pressure goes, and what it gives: in a line. */
export function Reckoned({ modelled }: { modelled: Schemas["Modelled"] }) {
  const { shares } = modelled;
  return (
    <>
      <div className="shares" aria-label={shares.map((s) => `${s.word} ${s.kpa.text}`).join(", ")}>
        {shares
          .filter((s) => s.part > 0.001)
          .map((s) => (
            <span key={s.word} className={`share ${s.word}`} style={{ flexGrow: Math.max(s.part, 0.12) }}>
              {s.word} <b className="mono">{s.kpa.text}</b>
            </span>
          ))}
      </div>
      <p className="small">
        At <b>{modelled.at.text}</b>: {modelled.flow.text}, stream {modelled.stream.text}, {modelled.regime}.
        Paint {modelled.viscosity.text} {modelled.viscosity_of}.
      </p>
    </>
  );
}
