// Tables sort by their columns and keep how in the address: a name, with a minus before it from the end.
import { Button, TableSortLabel } from "@mui/material";
import { useState } from "react";

export type Asks = { find?: string; sort?: string };
const text = (v: unknown) => (typeof v === "string" || typeof v === "number" ? String(v) : "");

/** What a list is asked, out of its address; empty asks leave none there. */
export const asksOf = (search: Record<string, unknown>): Asks => ({
  ...(text(search.find) ? { find: text(search.find) } : {}),
  ...(text(search.sort) ? { sort: text(search.sort) } : {}),
});

type Key = string | number | null | undefined;
export type Column<R> = {
  key: string;
  head: string;
  /** What it is sorted by on this page; missing: it is not sorted, or the server sorts it. */
  by?: (row: R) => Key;
  /** The server sorts it. */
  sorts?: boolean;
  /** Read by those who do not see the table; on the glass the column speaks for itself. */
  unseen?: boolean;
};

/** Rows by a column; what has no value stands at the end, whichever way. Rows alike stay as they came. */
export function sorted<R>(rows: R[], columns: Column<R>[], sort: string | undefined): R[] {
  const down = sort?.startsWith("-") ?? false;
  const by = columns.find((c) => c.key === sort?.replace("-", ""))?.by;
  if (!by) return rows;
  const none = (k: Key) => k === null || k === undefined || k === "";
  return [...rows].sort((one, other) => {
    const [a, b] = [by(one), by(other)];
    if (none(a) || none(b)) return Number(none(a)) - Number(none(b));
    const order =
      typeof a === "number" && typeof b === "number"
        ? a - b
        : String(a).localeCompare(String(b), undefined, { numeric: true, sensitivity: "base" });
    return down ? -order : order;
  });
}

/** The heads of a table; a tap sorts, a second one turns it round. */
export function SortHead<R>(props: {
  columns: Column<R>[];
  sort: string | undefined;
  set: (sort: string) => void;
}) {
  const { columns, sort, set } = props;
  return (
    <thead>
      <tr>
        {columns.map((c) => {
          const on = sort?.replace("-", "") === c.key;
          const down = on && sort?.startsWith("-") === true;
          return (
            <th key={c.key} aria-sort={on ? (down ? "descending" : "ascending") : undefined}>
              {c.by || c.sorts ? (
                <TableSortLabel
                  component="button"
                  type="button"
                  name={`sort-${c.key}`}
                  active={on}
                  direction={down ? "desc" : "asc"}
                  onClick={() => set(on && !down ? `-${c.key}` : c.key)}
                >
                  {c.head}
                </TableSortLabel>
              ) : (
                <span className={c.unseen ? "unseen" : ""}>{c.head}</span>
              )}
            </th>
          );
        })}
      </tr>
    </thead>
  );
}

/** Rows that stand on the page at once at first, and with each press more. */
const PAGE = 100;

/** A list that is here whole, a page of it at a time. */
export function usePaged<R>(rows: R[]) {
  const [shown, setShown] = useState(PAGE);
  const more =
    rows.length > shown ? (
      <Button variant="outlined" name="show-more" sx={{ my: 1 }} onClick={() => setShown((n) => n + PAGE)}>
        Show {Math.min(PAGE, rows.length - shown)} more of {rows.length}
      </Button>
    ) : null;
  return { rows: rows.slice(0, shown), more };
}
