// Product sheets in a list.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useRef } from "react";
import { send, type Schemas } from "../api/client";
import { meQuery, sheetsQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Empty, Failed, Loading } from "../ui/states";
import { asksOf, SortHead, sorted, usePaged, type Asks, type Column } from "../ui/table";

export function SheetsView() {
  const sheets = useQuery(sheetsQuery);
  const me = useQuery(meQuery).data;
  const navigate = useNavigate();
  const { find = "", sort } = useSearch({ from: "/sheets" });
  const ask = (asks: Asks) =>
    void navigate({ to: "/sheets", search: asksOf({ find, sort, ...asks }), replace: true });
  const word = find.trim().toLowerCase();
  const named = (sheets.data ?? []).filter((s) => `${s.name}\n${s.label}`.toLowerCase().includes(word));
  const paged = usePaged(sorted(named, COLUMNS, sort));
  if (sheets.isPending) return <Loading what="the sheets" />;
  if (sheets.error && !sheets.data)
    return <Failed error={sheets.error} again={() => void sheets.refetch()} />;
  return (
    <>
      <div className="board-head" style={{ marginBottom: 10 }}>
        <h1>Sheets</h1>
        <span className="slate">what each maker states, and the shop holds to</span>
        <Link to="/lists" className="export">
          Ready lists
        </Link>
        <ExportLink href={`/api/v1/sheets.csv?${new URLSearchParams({ find }).toString()}`} />
        {me?.may_edit_sheets && <ImportSheet />}
        {me?.may_edit_sheets && (
          <Button
            variant="contained"
            name="new-sheet"
            onClick={() => void navigate({ to: "/sheets/$id", params: { id: "new" } })}
          >
            New sheet
          </Button>
        )}
      </div>
      {sheets.data.length === 0 ? (
        <Empty>No sheet is entered yet. A lead or the owner enters one from the product’s data sheet.</Empty>
      ) : (
        <>
          <div className="finds" role="search">
            <TextField
              label="Find a sheet"
              name="find-sheet"
              value={find}
              onChange={(e) => ask({ find: e.target.value })}
              slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
            />
          </div>
          {named.length === 0 && <Empty>No sheet goes by that.</Empty>}
          <div className="list" tabIndex={0}>
            <table className="rows">
              <SortHead columns={COLUMNS} sort={sort} set={(sort) => ask({ sort })} />
              <tbody>
                {paged.rows.map((s) => (
                  <tr key={s.id}>
                    <td>
                      <Link to="/sheets/$id" params={{ id: s.id }}>
                        <b>{s.name}</b>
                      </Link>
                    </td>
                    <td>{s.ratio}</td>
                    <td className="nowrap">{s.pot_life ?? "–"}</td>
                    <td>{s.induction ?? "–"}</td>
                    <td className="nowrap">{s.wet}</td>
                    <td className="small slate">
                      {s.edition}, {s.written_by}, {shopTime(s.written, me?.zone ?? "UTC", me?.now)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {paged.more}
          </div>
        </>
      )}
    </>
  );
}

const COLUMNS: Column<Schemas["SheetLine"]>[] = [
  { key: "name", head: "Product", by: (s) => s.name },
  { key: "ratio", head: "Ratio", by: (s) => s.sorts.a_per_b },
  { key: "life", head: "Pot life", by: (s) => s.sorts.pot_life_s },
  { key: "induction", head: "Induction", by: (s) => s.sorts.induction_s },
  { key: "wet", head: "Wet film", by: (s) => s.sorts.wet_um },
  { key: "version", head: "Version", by: (s) => s.written },
];

/** Reads a sheet document; a sheet of that name gets a new version. */
function ImportSheet() {
  const input = useRef<HTMLInputElement>(null);
  const client = useQueryClient();
  const read = useMutation({
    mutationFn: (file: File) =>
      send<Schemas["SheetImported"]>("POST", "/api/v1/sheets/import", file, "application/json"),
    onSuccess: () => client.invalidateQueries({ queryKey: ["sheets"] }),
  });
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        aria-label="Sheet document"
        name="sheet-document"
        className="unseen"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) read.mutate(file);
        }}
      />
      <Button
        variant="outlined"
        name="import-sheet"
        disabled={read.isPending}
        onClick={() => input.current?.click()}
      >
        Import
      </Button>
      {read.data && (
        <span className="small">
          {read.data.name}: {read.data.new_version ? `version ${read.data.edition}` : "new"}
        </span>
      )}
      {read.error && (
        <span className="refusal small" role="alert">
          {read.error.message}
        </span>
      )}
    </>
  );
}
