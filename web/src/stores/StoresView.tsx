// Stores: lots by age, oldest first, and the places they stand in.
import { Act } from "../ui/Act";
import { Choice } from "../ui/Choice";
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { useDebounced } from "../api/entry";
import { offered, useWords } from "../api/forms";
import { lotPagesQuery, sheetsQuery, type LotAsks } from "../api/queries";
import { ExportLink } from "../ui/ExportLink";
import { Empty, Failed, Loading } from "../ui/states";
import { SortHead, type Column } from "../ui/table";
import { LotCan } from "./LotCan";
import { Places } from "./Places";
import { ReceiveDialog } from "./ReceiveDialog";

const TONE: Record<string, string> = {
  fit: "",
  soon: "word-tell",
  empty: "slate",
  damaged: "word-tell",
  expired: "word-out",
  quarantined: "word-out",
};

const COLUMNS: Column<never>[] = [
  { key: "label", head: "For a label", unseen: true },
  { key: "picture", head: "Picture", unseen: true },
  { key: "code", head: "Lot", sorts: true },
  { key: "product", head: "Product" },
  { key: "left", head: "Left", sorts: true },
  { key: "received", head: "Came in", sorts: true },
  { key: "expires", head: "Good until", sorts: true },
  { key: "place", head: "Place", sorts: true },
  { key: "state", head: "State" },
];

export function StoresView() {
  const words = useWords();
  const navigate = useNavigate();
  // What is asked stands in the address, as in every list.
  const asks = useSearch({ from: "/stores" });
  const find = { find: "", sheet: "", component: "", state: "", sort: "", ...asks };
  const setFind = (change: LotAsks) =>
    void navigate({
      to: "/stores",
      search: Object.fromEntries(Object.entries({ ...find, ...change }).filter(([, v]) => v !== "")),
      replace: true,
    });
  const [picked, setPicked] = useState<string[]>([]);
  const [receiving, setReceiving] = useState(false);
  const held = useDebounced(find, 150);
  const given = Object.fromEntries(Object.entries(held).filter(([, v]) => v !== ""));
  const lots = useInfiniteQuery({ ...lotPagesQuery(given), placeholderData: keepPreviousData });
  const sheets = useQuery(sheetsQuery).data;
  if (lots.isPending) return <Loading what="the stores" />;
  if (lots.error && !lots.data) return <Failed error={lots.error} again={() => void lots.refetch()} />;
  const rows = lots.data?.pages.flatMap((p) => p.lots) ?? [];
  const asked = Object.keys(given).some((name) => name !== "sort");
  const choose = (name: "sheet" | "component" | "state", label: string, options: [string, string][]) => (
    <Choice
      name={`find-${name}`}
      label={label}
      value={find[name]}
      set={(v) => setFind({ [name]: v })}
      options={options}
    />
  );
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>Stores</h1>
        <span className="slate">take the oldest that is fit</span>
        <ExportLink href={`/api/v1/lots.csv?${new URLSearchParams(given).toString()}`} />
        <Button variant="outlined" name="import-lots" onClick={() => void navigate({ to: "/stores/import" })}>
          Import
        </Button>
        <Act
          name="print-labels"
          word={`Labels${picked.length > 0 ? ` (${picked.length})` : ""}`}
          quiet
          needs={picked.length === 0 && "tick the lots"}
          press={() =>
            void navigate({ to: "/labels", search: { of: picked.map((id) => `lot:${id}`).join(",") } })
          }
        />
        <Button
          variant="contained"
          name="receive-lot"
          aria-haspopup="dialog"
          onClick={() => setReceiving(true)}
        >
          Receive a lot
        </Button>
      </div>
      <Places />
      <div className="finds" role="search">
        <TextField
          label="Find a lot"
          name="find-find"
          value={find.find}
          onChange={(e) => setFind({ find: e.target.value })}
          placeholder="code, maker’s lot, product"
          slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
        />
        {choose("sheet", "Product", [
          ["", "any"],
          ...(sheets ?? []).map((s): [string, string] => [s.id, s.name]),
        ])}
        {choose("component", "Component", offered(words.component.slice(0, 3), "any"))}
        {choose("state", "State", [...offered(words.lot_state, "not used up"), ["all", "all"]])}
      </div>
      {rows.length === 0 ? (
        <Empty>
          {asked
            ? "No lot fits. Ask for less."
            : "The stores are empty. Receive a lot, or import the table you keep."}
        </Empty>
      ) : (
        <div className="list" aria-busy={lots.isFetching} tabIndex={0}>
          <table className="rows lot-rows">
            <SortHead
              columns={COLUMNS}
              sort={find.sort}
              set={(sort) => setFind({ sort: sort.endsWith("received") ? "" : sort })}
            />
            <tbody>
              {rows.map((l) => (
                <tr key={l.id} className={l.first ? "now" : ""}>
                  <td>
                    <label className="tick bare">
                      <input
                        type="checkbox"
                        aria-label={`Label for ${l.code}`}
                        checked={picked.includes(l.id)}
                        onChange={(e) =>
                          setPicked((p) => (e.target.checked ? [...p, l.id] : p.filter((x) => x !== l.id)))
                        }
                      />
                    </label>
                  </td>
                  <td>
                    <LotCan part={l.left_part} state={l.state} />
                  </td>
                  <td>
                    <Link to="/stores/$id" params={{ id: l.id }} className="mono nowrap">
                      <b>{l.code}</b>
                    </Link>
                  </td>
                  <td>
                    {l.product}
                    <span className="slate small"> {l.component_name}</span>
                  </td>
                  <td className="mono nowrap">{l.left.text}</td>
                  <td className="mono nowrap">{l.received}</td>
                  <td className="mono nowrap">{l.expires ?? "–"}</td>
                  <td className="small">{l.place ?? "–"}</td>
                  <td className={`nowrap ${TONE[l.state] ?? ""}`}>
                    {l.first ? <b className="word-in">take first</b> : l.word}
                    {l.first && <span className="slate small"> {l.word}</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {lots.hasNextPage && (
            <Button
              variant="outlined"
              sx={{ my: 1 }}
              disabled={lots.isFetchingNextPage}
              onClick={() => void lots.fetchNextPage()}
            >
              {lots.isFetchingNextPage ? "Reading more …" : "Show more"}
            </Button>
          )}
        </div>
      )}
      {receiving && (
        <ReceiveDialog
          close={() => setReceiving(false)}
          opened={(id) => void navigate({ to: "/stores/$id", params: { id } })}
        />
      )}
    </>
  );
}
