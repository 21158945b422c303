// The part drawn as its zones, each as its shape lies flat; the next one with its way, patches by number, a photo behind if there is one.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";
import { outline } from "../../ui/pictures/outline";

type Board = Schemas["PassBoard"];
type Props = { board: Board; chosen: string | null; choose: (zone: string | null) => void };

const WIDE = 300;
const HIGH = 272;

export function ZoneDrawing({ board, chosen, choose }: Props) {
  const many = board.drawing.length > 5;
  const label = board.zones
    .map((z) => `${z.name}: ${z.line}${z.wet ? `, ${z.wet.shown.text}` : ""}`)
    .join("; ");
  return (
    <Picture viewBox={`0 0 ${WIDE} ${HIGH}`} className="zone-drawing" aria-label={`The part. ${label}`}>
      {board.backdrop && (
        <image
          href={`/api/v1/photos/${board.backdrop}/small`}
          width={WIDE}
          height={HIGH}
          preserveAspectRatio="xMidYMid slice"
          opacity="0.45"
        />
      )}
      {board.drawing.map((d, i) => {
        const zone = board.zones[i];
        if (!zone) return null;
        const [x, y, w, h] = [d.x * WIDE, d.y * HIGH, d.wide * WIDE, d.high * HIGH];
        const next = (zone.id ?? null) === chosen;
        const fill = next ? "var(--wash)" : zone.complete ? "var(--vial)" : "var(--comb)";
        const figure = zone.wet?.shown.text ?? (zone.complete ? "✓" : "–");
        return (
          <g key={zone.id ?? "part"} onClick={() => choose(zone.id ?? null)} className="zone-shape">
            <path
              d={outline(d, x, y, w, h)}
              fill={fill}
              fillOpacity={board.backdrop ? 0.72 : 1}
              stroke="var(--ink)"
              strokeWidth={next ? 3.5 : 1.8}
            />
            {zone.patch_count > 1 && <Patches count={zone.patch_count} x={x} y={y} w={w} h={h} />}
            {next && !many && <WayDrawn way={board.next?.way ?? null} x={x} y={y} w={w} h={h} />}
            <Words
              x={x + w / 2}
              y={y + h / 2}
              figure={many ? String(i + 1) : figure}
              small={many ? "" : zone.name}
            />
          </g>
        );
      })}
    </Picture>
  );
}

function Words({ x, y, figure, small }: { x: number; y: number; figure: string; small: string }) {
  return (
    <>
      <text x={x} y={small ? y - 1 : y + 5} textAnchor="middle" className="zone-figure">
        {figure}
      </text>
      {small && (
        <text x={x} y={y + 16} textAnchor="middle" className="zone-name">
          {small}
        </text>
      )}
    </>
  );
}

/** Patches side by side, numbered in their order. */
function Patches({ count, x, y, w, h }: { count: number; x: number; y: number; w: number; h: number }) {
  const shown = Math.min(count, 12);
  return (
    <g stroke="var(--slate)" strokeDasharray="4 4">
      {Array.from({ length: shown }, (_, i) => (
        <g key={i}>
          {i > 0 && <path d={`M${x + (w * i) / shown} ${y}v${h}`} />}
          <text
            x={x + (w * (i + 0.5)) / shown}
            y={y + 15}
            textAnchor="middle"
            className="zone-name"
            stroke="none"
          >
            {i + 1}
          </text>
        </g>
      ))}
    </g>
  );
}

/** The way of the next pass over its zone. */
function WayDrawn({
  way,
  x,
  y,
  w,
  h,
}: {
  way: Schemas["PassWay"] | null;
  x: number;
  y: number;
  w: number;
  h: number;
}) {
  const [left, right, top, bottom] = [x + 16, x + w - 16, y + 14, y + h - 14];
  const lines = [0, 1, 2, 3].map((i) => i / 3);
  const stroke = { stroke: "var(--verdigris)", strokeWidth: 3, fill: "none", strokeDasharray: "9 7" };
  const arrow = (ax: number, ay: number, across: boolean) =>
    across
      ? `M${ax - 6} ${ay - 8}L${ax} ${ay}L${ax + 6} ${ay - 8}`
      : `M${ax - 8} ${ay - 6}L${ax} ${ay}L${ax - 8} ${ay + 6}`;
  if (way === "across")
    return (
      <g opacity="0.8">
        {lines.map((f) => (
          <path key={f} d={`M${left + f * (right - left)} ${top}V${bottom}`} {...stroke} />
        ))}
        <path d={arrow(left, bottom, true)} {...stroke} strokeDasharray="none" />
      </g>
    );
  if (way === "circles") {
    const r = Math.min(14, (bottom - top) / 4);
    const at = Array.from({ length: Math.max(3, Math.floor((right - left) / r)) }, (_, i) => left + i * r);
    return (
      <g opacity="0.8">
        {at.map((cx, i) => (
          <circle
            key={cx}
            cx={cx}
            cy={(top + bottom) / 2 + Math.sin((i / at.length) * 2 * Math.PI) * ((bottom - top) / 2 - r)}
            r={r}
            {...stroke}
            strokeDasharray="none"
            strokeWidth="2"
          />
        ))}
      </g>
    );
  }
  if (way === "corners")
    return (
      <g opacity="0.8">
        <path
          d={`M${left} ${top + 24}V${top}H${left + 24}M${right - 24} ${top}H${right}V${top + 24}`}
          {...stroke}
          strokeDasharray="none"
        />
        <path
          d={`M${left} ${bottom - 24}V${bottom}H${left + 24}M${right - 24} ${bottom}H${right}V${bottom - 24}`}
          {...stroke}
          strokeDasharray="none"
        />
      </g>
    );
  return (
    <g opacity="0.8">
      {lines.map((f) => (
        <path key={f} d={`M${left} ${top + f * (bottom - top)}H${right}`} {...stroke} />
      ))}
      <path d={arrow(right, top, false)} {...stroke} strokeDasharray="none" />
    </g>
  );
}
