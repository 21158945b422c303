// The part with its spots: a number in a ring where the gauge goes, filled once it is read, on its corner where it is out.
import type { Schemas } from "../api/client";
import { Picture } from "../ui/Picture";
import { outline } from "../ui/pictures/outline";

type Gauge = Schemas["GaugeSeen"];
const WIDE = 300;
const HIGH = 300;

export function SpotsPicture({ gauge, area }: { gauge: Gauge; area: number }) {
  const here = gauge.areas.find((a) => a.no === area);
  const next = gauge.next;
  const said = gauge.areas
    .flatMap((a) => a.spots)
    .map((s) => `spot ${s.area_no}.${s.spot_no}, ${s.place}, ${s.level?.word ?? "to be read"}`)
    .join("; ");
  return (
    <Picture viewBox={`0 0 ${WIDE} ${HIGH}`} className="spots-picture" aria-label={`The part. ${said}`}>
      {gauge.drawing.map((d) => (
        <path
          key={d.id ?? "part"}
          d={outline(d, d.x * WIDE, d.y * HIGH, d.wide * WIDE, d.high * HIGH)}
          fill="var(--comb)"
          stroke="var(--ink)"
          strokeWidth="1.8"
        />
      ))}
      {gauge.areas
        .filter((a) => a.no !== area)
        .flatMap((a) => a.spots)
        .map((s) => (
          <circle
            key={`${s.area_no}.${s.spot_no}`}
            cx={s.x * WIDE}
            cy={s.y * HIGH}
            r="4"
            fill={s.level ? "var(--verdigris)" : "var(--ground)"}
            stroke="var(--ink)"
          />
        ))}
      {here?.spots.map((s) => {
        const [x, y] = [s.x * WIDE, s.y * HIGH];
        const out = s.level?.verdict === "low" || s.level?.verdict === "high";
        const at = next?.area_no === s.area_no && next.spot_no === s.spot_no;
        const fill = !s.level ? "var(--ground)" : out ? "var(--oxide)" : "var(--verdigris)";
        return (
          <g key={s.spot_no}>
            {out ? (
              <rect
                x={x - 12}
                y={y - 12}
                width="24"
                height="24"
                fill={fill}
                stroke="var(--ink)"
                strokeWidth="2"
                transform={`rotate(45 ${x} ${y})`}
              />
            ) : (
              <circle cx={x} cy={y} r="15" fill={fill} stroke="var(--ink)" strokeWidth={at ? 4 : 2} />
            )}
            <text x={x} y={y + 6} textAnchor="middle" className={s.level ? "spot-no done" : "spot-no"}>
              {s.spot_no}
            </text>
          </g>
        );
      })}
    </Picture>
  );
}
