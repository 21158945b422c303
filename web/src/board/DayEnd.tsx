// The end of the day: what may not stay over night, which rigs are to be shut down and cared for, what was thrown away.
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { dayEndQuery } from "../api/queries";
import { ExportLink } from "../ui/ExportLink";
import { Empty, Failed, Loading } from "../ui/states";

type Item = Schemas["DayEndItem"];

export function DayEnd() {
  const day = useQuery(dayEndQuery);
  if (day.isPending) return <Loading what="the end of the day" />;
  if (day.error && !day.data) return <Failed error={day.error} again={() => void day.refetch()} />;
  const { items, left, waste, cost, cautions } = day.data;
  return (
    <div className="day-end">
      <div className="board-head">
        <h2>
          {left === 0
            ? "Nothing is left to do"
            : left === 1
              ? "One thing left to do"
              : `${String(left)} things left to do`}
        </h2>
        <ExportLink href="/api/v1/board/day-end.csv" />
      </div>
      {items.length === 0 && <Empty>No rig was used today and no pot lives.</Empty>}
      {items.map((i) => (
        <Row key={`${i.of}${i.what}${i.batch ?? ""}`} item={i} />
      ))}
      <h2>Thrown away today</h2>
      {waste.length === 0 ? (
        <Empty>Nothing was discarded today.</Empty>
      ) : (
        <table className="rows">
          <thead>
            <tr>
              <th>Product</th>
              <th>How much</th>
              <th>Weighed</th>
              <th>Cost</th>
              <th>Of</th>
            </tr>
          </thead>
          <tbody>
            {waste.map((w) => (
              <tr key={w.product}>
                <td>{w.product}</td>
                <td className="mono nowrap">{w.volume}</td>
                <td className="mono nowrap">{w.mass ?? "not weighed"}</td>
                <td className="mono nowrap">{w.cost ?? "no price on its sheet"}</td>
                <td>{w.line}</td>
              </tr>
            ))}
          </tbody>
          {cost && (
            <tfoot>
              <tr>
                <td colSpan={3}>In all</td>
                <td className="mono nowrap">
                  <b>{cost}</b>
                </td>
                <td />
              </tr>
            </tfoot>
          )}
        </table>
      )}
      <h2>Before the light goes off</h2>
      <ul className="made-ready">
        {cautions.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      <p className="small slate">The data sheet, local codes and licensed practice rule.</p>
    </div>
  );
}

function Row({ item }: { item: Item }) {
  const inside = (
    <>
      <span className={`bar ${item.tone}`} />
      <b className={item.done ? "word-in" : item.tone === "urgent" ? "word-out" : "word-tell"}>
        {item.done ? "done" : "to do"}
      </b>
      <span>
        <span className="what">{item.what}</span>
        <br />
        <span className="slate small">{item.why}</span>
      </span>
      <span>{item.of}</span>
    </>
  );
  return item.batch && !item.rig ? (
    <Link
      to="/batches/$id"
      params={{ id: item.batch }}
      search={{ at: item.station }}
      className="next tonight"
    >
      {inside}
    </Link>
  ) : (
    <Link
      to="/rigs"
      search={item.rig ? { rig: item.rig, look: item.is_care ? "care" : "shut" } : {}}
      className="next tonight"
    >
      {inside}
    </Link>
  );
}
