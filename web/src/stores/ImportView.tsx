// Lots from a table: read first, every fault by its row, then stored whole or not at all.
import { Button } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { send, useProgress, type Schemas } from "../api/client";

type Imported = Schemas["Imported"];

export function ImportView() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  // The same file sent twice is one import.
  const [id, setId] = useState(() => v7());
  const [file, setFile] = useState<File | null>(null);
  const progress = useProgress(id);
  const call = (dry: boolean, table: File) =>
    send<Imported>("POST", `/api/v1/lots/import?id=${id}&dry_run=${dry}`, table, "text/csv");
  const look = useMutation({ mutationFn: (table: File) => call(true, table) });
  const store = useMutation({
    mutationFn: (table: File) => call(false, table),
    onSuccess: () => client.invalidateQueries({ queryKey: ["lots"] }),
  });
  const seen = look.data;
  const done = store.data?.stored ?? 0;
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>Import lots</h1>
        <span className="slate">all of a table, or nothing of it</span>
        <a className="export" href="/api/v1/lots.csv" download>
          Take the table as it is
        </a>
        <Link to="/stores" className="export">
          All lots
        </Link>
      </div>
      <p>
        Columns:{" "}
        <span className="mono small">
          code, product, component, makers_lot, colour, received, made, expires, shelf_life_days, container_g,
          containers_count, place, left_g
        </span>
        . Dates as 2026-11-23; any unit may be typed; commas, semicolons or tabs between cells.
      </p>
      <div className="actions" style={{ margin: "10px 0" }}>
        <input
          ref={input}
          type="file"
          accept=".csv,text/csv"
          aria-label="Table of lots"
          name="lots-table"
          className="unseen"
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (!chosen) return;
            setId(v7());
            setFile(chosen);
            store.reset();
            look.mutate(chosen);
          }}
        />
        <Button
          variant={seen ? "outlined" : "contained"}
          name="choose-table"
          onClick={() => input.current?.click()}
        >
          {file ? "Choose another table" : "Choose the table"}
        </Button>
        {file && seen && seen.fault_count === 0 && done === 0 && (
          <Button
            variant="contained"
            name="store-table"
            disabled={store.isPending}
            onClick={() => store.mutate(file)}
          >
            Store {seen.rows} lots
          </Button>
        )}
        {done > 0 && (
          <>
            <b className="word-in">{done} lots are in the stores.</b>
            <Button variant="contained" onClick={() => void navigate({ to: "/stores" })}>
              See them
            </Button>
          </>
        )}
        {(look.isPending || store.isPending) && (
          <span role="status">
            {store.isPending && progress ? `${progress[0]} of ${progress[1]} stored …` : "Reading …"}
          </span>
        )}
        {(look.error ?? store.error) && (
          <span className="refusal" role="alert">
            {(look.error ?? store.error)?.message}
          </span>
        )}
      </div>
      {store.isPending && progress && (
        <progress
          value={progress[0]}
          max={progress[1]}
          aria-label="Stored so far"
          style={{ width: "100%" }}
        />
      )}
      {seen && seen.fault_count > 0 && (
        <>
          <p className="word-out" role="alert">
            {seen.fault_count === 1 ? "1 fault" : `${seen.fault_count} faults`} in {seen.rows} rows. Nothing
            is stored; mend the table and choose it again.
          </p>
          <div className="list" tabIndex={0}>
            <table className="rows">
              <thead>
                <tr>
                  <th>Row</th>
                  <th>Column</th>
                  <th>What is wrong</th>
                </tr>
              </thead>
              <tbody>
                {seen.faults.map((f, i) => (
                  <tr key={i}>
                    <td className="mono">{f.row}</td>
                    <td className="mono">{f.column ?? "–"}</td>
                    <td>{f.text}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      {seen && seen.fault_count === 0 && seen.preview.length > 0 && (
        <div className="list" tabIndex={0}>
          <table className="rows">
            <caption className="label" style={{ textAlign: "left" }}>
              As it is understood, the first {seen.preview.length} of {seen.rows}
            </caption>
            <thead>
              <tr>
                <th>Row</th>
                <th>Lot</th>
                <th>Product</th>
                <th>Left</th>
                <th>Came in</th>
                <th>Good until</th>
                <th>Place</th>
              </tr>
            </thead>
            <tbody>
              {seen.preview.map((p) => (
                <tr key={p.row}>
                  <td className="mono">{p.row}</td>
                  <td className="mono">{p.code}</td>
                  <td>
                    {p.product} <span className="slate small">{p.component}</span>
                  </td>
                  <td className="mono nowrap">{p.left.text}</td>
                  <td className="mono nowrap">{p.received}</td>
                  <td className="mono nowrap">{p.expires ?? "–"}</td>
                  <td>{p.place ?? "–"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
