// Where a verdict is cannot tell: the cheapest further thing that would settle it, with its chance.
import type { Schemas } from "../../api/client";

export function Settling({ settling }: { settling: Schemas["Settling"] | null }) {
  if (!settling?.best) return null;
  const { best, others, on_the_limit } = settling;
  return (
    <div className="settling" role="status">
      <b>{best.text}</b> would settle it: {best.chance_said}.
      {others.length > 0 && (
        <div className="small slate">{others.map((o) => `${o.text}: ${o.chance_said}`).join(" · ")}</div>
      )}
      {on_the_limit && <div className="small">{on_the_limit}</div>}
    </div>
  );
}
