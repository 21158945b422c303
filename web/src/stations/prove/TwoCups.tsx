// Two cups under the gun, filled as high as they were caught; the pressure to move has an arrow.
import type { Schemas } from "../../api/client";
import { Picture } from "../../ui/Picture";

export function TwoCups({
  cups,
  moved,
}: {
  cups: Schemas["TwoCups"] | null;
  moved: Schemas["Advice"] | null;
}) {
  const label = cups
    ? `Cup A ${cups.a.caught.text}, cup B ${cups.b.caught.text}`
    : "Two empty cups under the gun";
  return (
    <Picture
      viewBox="0 0 530 190"
      style={{ width: "100%", maxHeight: 200, minHeight: 120 }}
      aria-label={label}
    >
      <Cup x={70} name="A" cup={cups?.a ?? null} colour="var(--base)" move={arrow(moved, "a")} />
      <Cup x={310} name="B" cup={cups?.b ?? null} colour="var(--hardener)" move={arrow(moved, "b")} />
      <path d="M20 178H510" stroke="var(--ink)" strokeWidth="2.5" />
      {cups?.time && (
        <text x="265" y="96" textAnchor="middle" fill="var(--slate)">
          {cups.time.text}
        </text>
      )}
    </Picture>
  );
}

function arrow(moved: Schemas["Advice"] | null, side: Schemas["Side"]): "up" | "down" | null {
  if (!moved || moved.side !== side || typeof moved.to_kpa !== "number") return null;
  return moved.raise ? "up" : "down";
}

function Cup({
  x,
  name,
  cup,
  colour,
  move,
}: {
  x: number;
  name: string;
  cup: Schemas["CatchCup"] | null;
  colour: string;
  move: "up" | "down" | null;
}) {
  const full = (cup?.full ?? 0) * 112;
  // The cup narrows downwards: the liquid's edge follows its wall.
  const inset = (from: number) => (14 * from) / 120;
  const top = 174 - full;
  return (
    <g>
      {full > 0 && (
        <path
          d={`M${x + inset(top - 54)} ${top} L${x + 14} 174 H${x + 86} L${x + 100 - inset(top - 54)} ${top} Z`}
          fill={colour}
        />
      )}
      <path
        d={`M${x} 54 L${x + 14} 176 H${x + 86} L${x + 100} 54`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3"
      />
      <text x={x + 50} y="20" fontWeight="700" textAnchor="middle" fill="var(--ink)">
        {name} {cup?.pressure?.text ?? ""}
      </text>
      {cup?.flow && (
        <text x={x + 50} y="42" textAnchor="middle" fill="var(--slate)">
          {cup.flow.text}
        </text>
      )}
      <text x={x + 112} y="150" className="mono" fill="var(--ink)">
        {cup?.caught.text ?? ""}
      </text>
      {move && (
        <path
          d={
            move === "up"
              ? `M${x - 26} 44 V16 M${x - 36} 27 L${x - 26} 14 L${x - 16} 27`
              : `M${x - 26} 14 V42 M${x - 36} 31 L${x - 26} 44 L${x - 16} 31`
          }
          fill="none"
          stroke="var(--ochre)"
          strokeWidth="5"
        />
      )}
    </g>
  );
}
