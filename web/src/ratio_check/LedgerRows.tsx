// The ledger as a table: what the chart shows, and what it cannot.
import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { shopTime } from "../ui/clock";
import { Level } from "../ui/Level";

export function LedgerRows({
  rows,
  zone,
  now,
}: {
  rows: Schemas["LedgerRow"][];
  zone: string;
  now: string | undefined;
}) {
  return (
    <table className="rows ledger-rows">
      <thead>
        <tr>
          <th>When</th>
          <th>Measured</th>
          <th>Ratio</th>
          <th>Lots</th>
          <th>At</th>
          <th>Moved after</th>
          <th>Who</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.entry} className={r.begins ? "begins" : ""}>
            <td className="mono nowrap">{shopTime(r.at, zone, now)}</td>
            <td>
              {r.measured}
              <div className="small slate">
                {r.word}
                {r.batch ? (
                  <>
                    {" · "}
                    <Link to="/batches/$id" params={{ id: r.batch }}>
                      {String(r.number ?? "").padStart(4, "0")}
                    </Link>
                  </>
                ) : (
                  " · from a card"
                )}
              </div>
            </td>
            <td>
              {r.level ? (
                <>
                  <Level level={{ ...r.level, label: "" }} size="list" />
                  <span className="small slate mono">{r.interval}</span>
                </>
              ) : (
                <span className={r.verdict === "in" ? "word-in" : "word-out"}>
                  {r.verdict === "in" ? "in" : r.verdict === "cannot_tell" ? "cannot tell" : "out"}
                </span>
              )}
            </td>
            <td className="small">{r.lots}</td>
            <td className="small">{r.under}</td>
            <td className="small">
              {r.moved.join("; ")}
              {r.begins && <div className="slate">began with: {r.begins}</div>}
              {r.mark && <div className="word-tell">{r.mark}</div>}
            </td>
            <td className="slate nowrap">{r.by}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
