// The code on a card: a scan of the paper opens the card it was printed from.
import { useQuery } from "@tanstack/react-query";
import { labelsQuery } from "../../api/queries";

export function CardCode({ id }: { id: string }) {
  const printed = useQuery(labelsQuery(`card:${id}`)).data?.labels[0];
  if (!printed) return null;
  const { code, label } = printed;
  return (
    <figure className="card-code">
      <svg
        viewBox={`0 0 ${String(code.dots)} ${String(code.dots)}`}
        shapeRendering="crispEdges"
        role="img"
        aria-label={`Code of ${label.heading}`}
      >
        <rect width={code.dots} height={code.dots} fill="#fff" />
        <path d={code.path} fill="#000" />
      </svg>
      <figcaption className="small mono">{label.lines.at(-1)}</figcaption>
    </figure>
  );
}
