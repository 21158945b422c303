// Versions of a sheet, and what each says that the one before did not.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { meQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import type { Row } from "./form";

export function Versions({ id, versions }: { id: string; versions: Row[] }) {
  const me = useQuery(meQuery).data;
  const [open, setOpen] = useState<number | null>(null);
  const changes = useQuery({
    queryKey: ["sheets", id, "changes", open],
    queryFn: () =>
      ask(
        api.GET("/api/v1/sheets/{id}/changes", {
          params: { path: { id }, query: { from: (open ?? 1) - 1, to: open ?? 1 } },
        }),
      ),
    enabled: open !== null,
  }).data;
  if (versions.length < 2) return null;
  return (
    <fieldset>
      <legend>Versions</legend>
      {versions.map((v) => (
        <div key={v.edition}>
          {v.edition > 1 ? (
            <button
              type="button"
              className="link"
              name={`version-${v.edition}`}
              aria-expanded={open === v.edition}
              onClick={() => setOpen(open === v.edition ? null : v.edition)}
            >
              Version {v.edition}: what changed
            </button>
          ) : (
            <span className="small slate">Version 1</span>
          )}
          <span className="small slate">
            {" "}
            {v.written_by}, {shopTime(v.written, me?.zone ?? "UTC", me?.now)}
          </span>
          {open === v.edition && changes && (
            <Differences
              changes={changes}
              before={`Version ${v.edition - 1}`}
              after={`Version ${v.edition}`}
            />
          )}
        </div>
      ))}
    </fieldset>
  );
}

/** Fields in which two sheets or versions differ. */
export function Differences(props: { changes: Schemas["SheetChange"][]; before: string; after: string }) {
  const { changes, before, after } = props;
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Field</th>
          <th>{before}</th>
          <th>{after}</th>
        </tr>
      </thead>
      <tbody>
        {changes.map((c) => (
          <tr key={c.field}>
            <td>{c.label}</td>
            <td className="mono">{c.before}</td>
            <td className="mono">
              <b>{c.after}</b>
            </td>
          </tr>
        ))}
        {changes.length === 0 && (
          <tr>
            <td colSpan={3}>Nothing: they say the same.</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
