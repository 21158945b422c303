// Stores: lots by age, oldest first, and the places they stand in.
import { Choice } from "../ui/Choice";
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { useDebounced } from "../api/entry";
import { offered, useWords } from "../api/forms";
import { lotPagesQuery, sheetsQuery } from "../api/queries";
import { ExportLink } from "../ui/ExportLink";
import { Empty, Failed, Loading } from "../ui/states";
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

export function StoresView() {
  const words = useWords();
  const navigate = useNavigate();
  const [find, setFind] = useState({ find: "", sheet: "", component: "", state: "" });
  const [picked, setPicked] = useState<string[]>([]);
  const [receiving, setReceiving] = useState(false);
  const held = useDebounced(find, 150);
  const given = Object.fromEntries(Object.entries(held).filter(([, v]) => v !== ""));
  const lots = useInfiniteQuery({ ...lotPagesQuery(given), placeholderData: keepPreviousData });
  const sheets = useQuery(sheetsQuery).data;
  if (lots.isPending) return <Loading what="the stores" />;
  if (lots.error && !lots.data) return <Failed error={lots.error} again={() => void lots.refetch()} />;
  const rows = lots.data?.pages.flatMap((p) => p.lots) ?? [];
  const asked = Object.keys(given).length > 0;
  const choose = (name: "sheet" | "component" | "state", label: string, options: [string, string][]) => (
    <Choice
      name={`find-${name}`}
      label={label}
      value={find[name]}
      set={(v) => setFind((f) => ({ ...f, [name]: v }))}
      options={options}
    />
  );
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>Stores</h1>
        <span className="slate">oldest first; take from the top</span>
        <ExportLink href={`/api/v1/lots.csv?${new URLSearchParams(given).toString()}`} />
        <Button variant="outlined" name="import-lots" onClick={() => void navigate({ to: "/stores/import" })}>
          Import
        </Button>
        <Button
          variant="outlined"
          name="print-labels"
          disabled={picked.length === 0}
          onClick={() =>
            void navigate({ to: "/labels", search: { of: picked.map((id) => `lot:${id}`).join(",") } })
          }
        >
          Labels{picked.length > 0 ? ` (${picked.length})` : ""}
        </Button>
        <Button variant="contained" name="receive-lot" onClick={() => setReceiving(true)}>
          Receive a lot
        </Button>
      </div>
      <Places />
      <div className="finds" role="search">
        <TextField
          label="Find a lot"
          name="find-find"
          value={find.find}
          onChange={(e) => setFind((f) => ({ ...f, find: e.target.value }))}
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
          <table className="rows">
            <thead>
              <tr>
                <th>
                  <span className="unseen">For a label</span>
                </th>
                <th>
                  <span className="unseen">Picture</span>
                </th>
                <th>Lot</th>
                <th>Product</th>
                <th>Left</th>
                <th>Came in</th>
                <th>Good until</th>
                <th>Place</th>
                <th>State</th>
              </tr>
            </thead>
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
              {lots.isFetchingNextPage ? "Reading more …" : "Show younger ones"}
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
