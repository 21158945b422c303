// The stream as an arc over a rule: the band, the tries before, the one seen now.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";

// Sixteen inches of rule across 416 units, whatever unit it is marked in.
const PER_MM = 26 / 25.4;

export function StreamPicture({
  set,
  stream,
  tap,
}: {
  set: Schemas["SetView"];
  stream: Schemas["Stream"] | null;
  /** Where the picture is tapped, the stream was seen to bend. */
  tap: (mm: number) => void;
}) {
  const x = (mm: number) => 92 + mm * PER_MM;
  const y = (mm: number) => 40 + (mm / 25.4) * 30;
  const path = (points: Schemas["ArcPoint"][]) =>
    points.map((p, i) => `${i === 0 ? "M" : "L"}${x(p.x_mm).toFixed(1)} ${y(p.drop_mm).toFixed(1)}`).join("");
  const arc = (key: string, points: Schemas["ArcPoint"][], width: number, colour: string, dash?: string) => (
    <path
      key={key}
      d={path(points)}
      fill="none"
      stroke={colour}
      strokeWidth={width}
      strokeDasharray={dash}
      strokeLinecap="round"
    />
  );
  return (
    <Picture
      viewBox="0 0 530 214"
      style={{ width: "100%", maxHeight: 200, flex: "none" }}
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        // The drawing is centred in its box, at the smaller of the two scales.
        const scale = Math.min(box.width / 530, box.height / 214);
        const at = (e.clientX - box.left - (box.width - 530 * scale) / 2) / scale;
        const mm = (at - 92) / PER_MM;
        if (mm > 0 && mm < 410) tap(mm);
      }}
      aria-label={
        stream ? `Stream ${stream.level.shown.text}, ${stream.level.word}` : "Gun, no stream seen yet"
      }
    >
      <rect
        x={x(set.band_lo_mm)}
        y={6}
        width={x(set.band_hi_mm) - x(set.band_lo_mm)}
        height={164}
        fill="var(--wash)"
      />
      {[set.band_lo_mm, set.band_hi_mm].map((mm) => (
        <path key={mm} d={`M${x(mm)} 6V170`} stroke="var(--ink)" strokeWidth="2" />
      ))}
      {stream && arc("shortest", stream.shortest, 2, "var(--slate)", "5 5")}
      {stream && arc("longest", stream.longest, 2, "var(--slate)", "5 5")}
      {/* Tries before this one stay, thin: the next pressure is read off them. */}
      {set.set_ups.slice(0, -1).map((t) => arc(t.entry, t.arc, 2, "var(--slate)"))}
      {stream && arc("seen", stream.arc, 6, "var(--verdigris)")}
      <path
        d="M20 26 H76 L92 34 V46 L76 54 H56 L46 104 H26 L34 54 H20 Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M92 180H508" stroke="var(--ink)" strokeWidth="2.5" />
      {set.rule.map((m) => (
        <g key={m.at_mm}>
          <path d={`M${x(m.at_mm)} 180v${m.figure ? 12 : 6}`} stroke="var(--ink)" strokeWidth="2" />
          {m.figure && (
            <text x={x(m.at_mm)} y="208" textAnchor="middle" fill="var(--slate)">
              {m.figure}
            </text>
          )}
        </g>
      ))}
      <text x="512" y="186" fill="var(--slate)">
        {set.rule_unit}
      </text>
    </Picture>
  );
}
