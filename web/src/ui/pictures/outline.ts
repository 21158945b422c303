// The outline of a zone laid flat, in the room it is given.
import type { Schemas } from "../../api/client";

type Drawn = Schemas["ZoneDrawn"];

export function outline(d: Drawn, x: number, y: number, w: number, h: number) {
  const box = (x: number, y: number, w: number, h: number) => `M${x} ${y}h${w}v${h}h${-w}Z`;
  switch (d.outline) {
    case "dome":
      return `M${x} ${y + h}C${x} ${y - h / 3} ${x + w} ${y - h / 3} ${x + w} ${y + h}Z`;
    case "cone":
      return `M${x + w * 0.2} ${y}h${w * 0.6}L${x + w} ${y + h}H${x}Z`;
    case "unrolled":
      return `${box(x, y, w, h)}M${x + 7} ${y}v${h}M${x + w - 7} ${y}v${h}`;
    case "channel":
      return `${box(x, y, w, h)}M${x} ${y + h * 0.22}h${w}M${x} ${y + h * 0.78}h${w}`;
    case "door": {
      const one = (w - (d.apart - 1) * 8) / d.apart;
      return Array.from({ length: d.apart }, (_, i) => box(x + i * (one + 8), y, one, h)).join("");
    }
    case "net":
      return `${box(x, y, w, h)}M${x} ${y + h / 3}h${w}M${x} ${y + (2 * h) / 3}h${w}M${x + w / 4} ${y + h / 3}v${h / 3}M${x + w / 2} ${y + h / 3}v${h / 3}M${x + (3 * w) / 4} ${y + h / 3}v${h / 3}`;
    case "flat":
      return box(x, y, w, h);
  }
}
