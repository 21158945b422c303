// Finished batches: find by part, product, lot, person and day; open the card; take the list along.
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { Refused } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { meQuery, recordsQuery, type Find, type TrendBy } from "../api/queries";
import { shopTime } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Empty, Failed, Loading } from "../ui/states";
import { SortHead, type Column } from "../ui/table";
import { SavedViews } from "./SavedViews";
import { Trends } from "./Trends";
import "./records.css";

const ALL: Find = {
  find: "",
  part: "",
  product: "",
  lot: "",
  person: "",
  from: "",
  to: "",
  weeks: "",
  sort: "",
};
const FIELDS: [keyof Find, string][] = [
  ["find", "Find anything"],
  ["part", "Part"],
  ["product", "Product"],
  ["lot", "Lot"],
  ["person", "Person"],
  ["from", "From day"],
  ["to", "To day"],
  ["weeks", "Last weeks"],
];

const COLUMNS: Column<never>[] = [
  { key: "number", head: "Batch", sorts: true },
  { key: "part", head: "Part and coat", sorts: true },
  { key: "product", head: "Product", sorts: true },
  { key: "lots", head: "Lots" },
  { key: "people", head: "People" },
  { key: "begun", head: "Begun", sorts: true },
  { key: "state", head: "State" },
  { key: "card", head: "Card" },
];

export function RecordsView() {
  // What is asked stands in the address: a reload keeps it, and it can be sent to somebody.
  const { trends, ...asks } = useSearch({ from: "/records" });
  const navigate = useNavigate();
  const find = { ...ALL, ...asks };
  const look = (next: Find, by: TrendBy | undefined) =>
    void navigate({
      to: "/records",
      search: {
        ...Object.fromEntries(Object.entries(next).filter(([, v]) => v !== "")),
        ...(by ? { trends: by } : {}),
      },
      replace: true,
    });
  const setFind = (next: Find) => look(next, trends);
  const held = useDebounced(find, 150);
  const records = useInfiniteQuery({ ...recordsQuery(held), placeholderData: keepPreviousData });
  const me = useQuery(meQuery).data;
  const refusals = records.error instanceof Refused ? records.error.problem.fields : [];
  const asked = FIELDS.some(([name]) => find[name] !== "");
  const rows = records.data?.pages.flatMap((p) => p.rows) ?? [];
  const given = Object.fromEntries(Object.entries(held).filter(([, v]) => v !== ""));
  const kept = (
    <SavedViews
      asks={{ find: { ...held, after: "", by: null }, trends: trends ?? null }}
      asked={asked || Boolean(trends)}
      open={(view) => look({ ...ALL, ...view.find }, view.trends ?? undefined)}
    />
  );
  return (
    <>
      <div className="board-head" style={{ marginBottom: 10 }}>
        <h1>Records</h1>
        <div className="records-see" role="group" aria-label="Look at">
          <Button
            variant="outlined"
            name="see-list"
            aria-pressed={!trends}
            onClick={() => look(find, undefined)}
          >
            List
          </Button>
          <Button
            variant="outlined"
            name="see-trends"
            aria-pressed={Boolean(trends)}
            onClick={() => look(find, trends ?? "product")}
          >
            Trends
          </Button>
        </div>
        <Link to="/trace" search={{}} className="export">
          Trace
        </Link>
        {trends ? (
          <ExportLink
            href={`/api/v1/records/trends.csv?${new URLSearchParams({ ...given, by: trends }).toString()}`}
          />
        ) : (
          <>
            <ExportLink
              href={`/api/v1/records.xlsx?${new URLSearchParams(given).toString()}`}
              word="As a workbook"
            />
            <ExportLink href={`/api/v1/records.csv?${new URLSearchParams(given).toString()}`} />
          </>
        )}
      </div>
      <div className="finds" role="search">
        {FIELDS.map(([name, label]) => (
          <TextField
            key={name}
            label={label}
            name={`find-${name}`}
            type={name === "from" || name === "to" ? "date" : "text"}
            value={find[name]}
            onChange={(e) => setFind({ ...find, [name]: e.target.value })}
            autoFocus={name === "find"}
            error={Boolean(at(name, refusals))}
            helperText={at(name, refusals)}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
          />
        ))}
        {asked && (
          <Button variant="outlined" onClick={() => setFind({ ...ALL, sort: find.sort })}>
            Show all
          </Button>
        )}
      </div>
      {!trends && kept}
      {trends ? (
        <Trends find={held} by={trends} set={(by) => look(find, by)} beside={kept} />
      ) : records.isPending ? (
        <Loading what="the records" />
      ) : records.error && !records.data && !refusals?.length ? (
        <Failed error={records.error} again={() => void records.refetch()} />
      ) : rows.length === 0 ? (
        <Empty>{asked ? "No finished batch fits. Ask for less." : "No batch is signed yet."}</Empty>
      ) : (
        <div className="list" aria-busy={records.isFetching}>
          <table className="rows">
            <SortHead columns={COLUMNS} sort={find.sort} set={(sort) => setFind({ ...find, sort })} />
            <tbody>
              {rows.map((r) => (
                <tr key={r.id}>
                  <td className="mono">{String(r.number).padStart(4, "0")}</td>
                  <td>
                    <Link to="/batches/$id" params={{ id: r.id }} search={{ at: 6 }}>
                      <b>{r.label}</b>
                    </Link>
                  </td>
                  <td>{r.product}</td>
                  <td className="small">{r.lots.join(", ") || "–"}</td>
                  <td className="small">{r.people.join(", ")}</td>
                  <td className="mono nowrap">{shopTime(r.begun, me?.zone ?? "UTC", me?.now)}</td>
                  <td>{r.state}</td>
                  <td>
                    <Link to="/batches/$id/card" params={{ id: r.id }}>
                      Open
                    </Link>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {records.hasNextPage && (
            <Button
              variant="outlined"
              name="more-records"
              sx={{ my: 1 }}
              disabled={records.isFetchingNextPage}
              onClick={() => void records.fetchNextPage()}
            >
              {records.isFetchingNextPage ? "Reading more …" : "Show more"}
            </Button>
          )}
        </div>
      )}
    </>
  );
}
