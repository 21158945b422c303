// Finished batches: find by part, coat, product or number; open the card.
import { TextField } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useDebounced } from "../api/entry";
import { meQuery, recordsQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { Empty, Failed, Loading } from "../ui/states";

export function RecordsView() {
  const [find, setFind] = useState("");
  const records = useQuery({ ...recordsQuery(useDebounced(find, 150)), placeholderData: keepPreviousData });
  const me = useQuery(meQuery).data;
  if (records.isPending) return <Loading what="the records" />;
  if (records.error && !records.data)
    return <Failed error={records.error} again={() => void records.refetch()} />;
  return (
    <>
      <div className="board-head" style={{ marginBottom: 14 }}>
        <h1>Records</h1>
        <span className="slate">signed and accepted batches, newest first</span>
      </div>
      <div style={{ maxWidth: 420 }}>
        <TextField
          label="Find by part, coat, product or number"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          autoFocus
          slotProps={{ inputLabel: { shrink: true } }}
        />
      </div>
      {records.data.length === 0 ? (
        <Empty>{find ? "No finished batch fits. Try fewer letters." : "No batch is signed yet."}</Empty>
      ) : (
        <table className="rows" style={{ marginTop: 12 }}>
          <thead>
            <tr>
              <th>Batch</th>
              <th>Part and coat</th>
              <th>Product</th>
              <th>Begun</th>
              <th>State</th>
              <th>Card</th>
            </tr>
          </thead>
          <tbody>
            {records.data.map((r) => (
              <tr key={r.id}>
                <td className="mono">{String(r.number).padStart(4, "0")}</td>
                <td>
                  <Link to="/batches/$id" params={{ id: r.id }} search={{ at: 6 }}>
                    <b>{r.label}</b>
                  </Link>
                </td>
                <td>{r.product}</td>
                <td className="mono">{shopTime(r.begun, me?.zone ?? "UTC", me?.now)}</td>
                <td>{r.state}</td>
                <td>
                  <Link to="/batches/$id/card" params={{ id: r.id }}>
                    Open the card
                  </Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
