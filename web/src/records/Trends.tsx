// What finished batches came to, by product, rig or person: a row each, a line for each figure.
import { Button } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Refused } from "../api/client";
import { meQuery, trendsQuery, type Find, type TrendBy } from "../api/queries";
import { Empty, Failed, Loading } from "../ui/states";
import { TrendPicture } from "./TrendPicture";

const BY: [TrendBy, string][] = [
  ["product", "By product"],
  ["rig", "By rig"],
  ["person", "By person"],
];

export function Trends({
  find,
  by,
  set,
  beside,
}: {
  find: Find;
  by: TrendBy;
  set: (by: TrendBy) => void;
  beside: ReactNode;
}) {
  const me = useQuery(meQuery).data;
  const trends = useQuery({ ...trendsQuery(find, by), placeholderData: keepPreviousData });
  // People's figures are a lead's and the owner's to look at; the server refuses them to anybody else.
  const shown = BY.filter(([key]) => key !== "person" || me?.role === "lead" || me?.role === "owner");
  const choose = (
    <div className="trend-by" role="group" aria-label="Put together">
      {shown.map(([key, word]) => (
        <Button
          key={key}
          variant="outlined"
          name={`by-${key}`}
          aria-pressed={by === key}
          onClick={() => set(key)}
        >
          {word}
        </Button>
      ))}
      {beside}
    </div>
  );
  const field = trends.error instanceof Refused && (trends.error.problem.fields ?? []).length > 0;
  if (trends.isPending) return <Loading what="the trends" />;
  if (trends.error && !trends.data)
    return (
      <>
        {choose}
        {field ? null : <Failed error={trends.error} again={() => void trends.refetch()} />}
      </>
    );
  const { groups, more, first, last } = trends.data;
  return (
    <>
      {choose}
      <p className="slate small">
        Weekly means from {first} to the week of {last}; the dashed line is the plan. They judge nothing: what
        is in and out stands with each batch.
      </p>
      {groups.length === 0 ? (
        <Empty>No signed batch was sprayed in these weeks.</Empty>
      ) : (
        <div className="list" aria-busy={trends.isFetching}>
          <table className="rows trends">
            <thead>
              <tr>
                <th>{by === "product" ? "Product" : by === "rig" ? "Rig" : "Person"}</th>
                {groups[0]?.lines.map((l) => (
                  <th key={l.of}>{l.name}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {groups.map((g) => (
                <tr key={g.name}>
                  <td>
                    <b>{g.name}</b>
                    <br />
                    <span className="slate small">
                      {g.count === 1 ? "1 batch" : `${String(g.count)} batches`}
                    </span>
                  </td>
                  {g.lines.map((l) => (
                    <td key={l.of}>
                      <TrendPicture line={l} />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {more > 0 && <p className="slate small">and {more} with fewer batches; ask for less to see them</p>}
        </div>
      )}
    </>
  );
}
