// Planned coats that come next: a tap fills the whole form.
import type { Schemas } from "../api/client";

type Props = { next: Schemas["ComesNext"][]; choose: (next: Schemas["ComesNext"]) => void };

export function ComesNext({ next, choose }: Props) {
  if (next.length === 0)
    return (
      <p className="slate">
        No coat is planned. Name the part, its coat and the sheet; plans stand under Parts.
      </p>
    );
  return (
    <div className="list comes-next">
      {next.map((n) => (
        <button
          key={`${n.part} ${n.coat}`}
          type="button"
          className="plain-button"
          name={`next-${n.part}`}
          onClick={() => choose(n)}
        >
          <b>
            {n.part} · {n.coat}
          </b>
          <span className="slate ellipsis">{n.product}</span>
          <b className="word-in nowrap">Take it</b>
        </button>
      ))}
    </div>
  );
}
