// Parts, newest first, and the pairs of products with a window of their own.
import { Button, TextField } from "@mui/material";
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { meQuery, pairsQuery, partPagesQuery, sheetsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Empty, Failed, Loading } from "../ui/states";
import { Words } from "../ui/Words";
import { ExportLink } from "../ui/ExportLink";
import { asksOf } from "../ui/table";

export function PartsView() {
  const navigate = useNavigate();
  const { find = "" } = useSearch({ from: "/parts" });
  const held = useDebounced(find.trim(), 150);
  const parts = useInfiniteQuery(partPagesQuery(held));
  const pairs = useQuery(pairsQuery).data ?? [];
  const me = useQuery(meQuery).data;
  const [editing, setEditing] = useState<Schemas["PairView"] | "new" | null>(null);
  if (parts.isPending) return <Loading what="the parts" />;
  if (parts.error && !parts.data) return <Failed error={parts.error} again={() => void parts.refetch()} />;
  const shown = parts.data.pages.flat();
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>Parts</h1>
        <span className="slate">each with its coats, and what comes next; newest first</span>
        <ExportLink href={`/api/v1/parts.csv?${new URLSearchParams({ find: held }).toString()}`} />
      </div>
      <div className="station">
        <div className="do">
          <TextField
            label="Find a part"
            name="find-part"
            value={find}
            onChange={(e) =>
              void navigate({ to: "/parts", search: asksOf({ find: e.target.value }), replace: true })
            }
            slotProps={{ inputLabel: { shrink: true } }}
          />
          {shown.length === 0 && (
            <Empty>
              {held ? "No part of that name." : "No part is kept yet. A part begins with its first batch."}
            </Empty>
          )}
          <div className="list" tabIndex={0}>
            {shown.map((p) => (
              <Link key={p.id} to="/parts/$id" params={{ id: p.id }} className="part-row">
                <b className="ellipsis">{p.name}</b>
                <span className="slate ellipsis">{p.coats.join(" → ")}</span>
              </Link>
            ))}
            {parts.hasNextPage && (
              <Button
                variant="outlined"
                name="more-parts"
                sx={{ my: 1 }}
                disabled={parts.isFetchingNextPage}
                onClick={() => void parts.fetchNextPage()}
              >
                {parts.isFetchingNextPage ? "Reading more …" : "Show older ones"}
              </Button>
            )}
          </div>
        </div>
        <div className="see">
          <div className="board-head">
            <h2>Recoat by pair</h2>
            {me?.may_edit_sheets && (
              <Button
                variant="outlined"
                name="new-pair"
                aria-haspopup="dialog"
                onClick={() => setEditing("new")}
              >
                Add a pair
              </Button>
            )}
          </div>
          <p className="small slate">One product over another: these times stand before the sheet’s own.</p>
          <div className="list" tabIndex={0}>
            <table className="rows">
              <tbody>
                {pairs.map((p) => (
                  <tr key={p.from + p.to}>
                    <td>
                      <b>{p.from_name}</b> → <b>{p.to_name}</b>
                      {p.times.prepare && <div className="small slate">{p.times.prepare}</div>}
                    </td>
                    <td className="nowrap">
                      {p.min?.text ?? "–"} to {p.max?.text ?? "–"} at {p.at.text}
                    </td>
                    <td>
                      {me?.may_edit_sheets && (
                        <button
                          type="button"
                          className="link"
                          aria-haspopup="dialog"
                          onClick={() => setEditing(p)}
                        >
                          Edit
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      </div>
      {editing && <PairDialog pair={editing === "new" ? null : editing} close={() => setEditing(null)} />}
    </>
  );
}

function PairDialog({ pair, close }: { pair: Schemas["PairView"] | null; close: () => void }) {
  const client = useQueryClient();
  const sheets = useQuery(sheetsQuery).data ?? [];
  const [ends, setEnds] = useState({ from: pair?.from ?? "", to: pair?.to ?? "" });
  const [form, setForm] = useState({
    recoat_min_s: pair?.min?.text ?? "",
    recoat_max_s: pair?.max?.text ?? "",
    recoat_at_c: pair?.at.text ?? "20 °C",
    prepare: pair?.times.prepare ?? "",
  });
  const save = useMutation({
    mutationFn: (times: Schemas["PairTimesTyped"] | null) =>
      ask(api.PUT("/api/v1/pairs/{from}/{to}", { params: { path: ends }, body: { times } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["parts"] });
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  const set = (name: keyof typeof form) => (v: string) => setForm((f) => ({ ...f, [name]: v }));
  const choose = (name: "from" | "to", label: string) => (
    <Choice
      name={`pair-${name}`}
      label={label}
      value={ends[name]}
      disabled={Boolean(pair)}
      set={(v) => setEnds((x) => ({ ...x, [name]: v }))}
      options={[["", " "], ...sheets.map((s) => [s.id, s.name] as const)]}
    />
  );
  return (
    <FormDialog
      title="Recoat of a pair"
      action="Save"
      name="save-pair"
      busy={save.isPending}
      needs={(!ends.from || !ends.to) && "both products"}
      submit={() => save.mutate(form)}
      close={close}
    >
      <div className="fields">
        {choose("from", "This product beneath")}
        {choose("to", "That one over it")}
        <Field
          name="recoat_min_s"
          label="Earliest"
          value={form.recoat_min_s}
          onChange={set("recoat_min_s")}
          error={at("recoat_min_s", refusals)}
        />
        <Field
          name="recoat_max_s"
          label="Latest"
          value={form.recoat_max_s}
          onChange={set("recoat_max_s")}
          error={at("recoat_max_s", refusals)}
        />
        <Field
          name="recoat_at_c"
          label="Stated at"
          value={form.recoat_at_c}
          onChange={set("recoat_at_c")}
          error={at("recoat_at_c", refusals)}
        />
      </div>
      <Words
        name="prepare"
        label="Between the two"
        value={form.prepare}
        set={set("prepare")}
        most={300}
        hint="nibs off, wipe, abrade …"
      />
      {pair && (
        <button type="button" className="link" onClick={() => save.mutate(null)}>
          Take this pair away: the sheet’s own times stand then
        </button>
      )}
      {save.error && !refusals?.length && <p className="refusal">{save.error.message}</p>}
    </FormDialog>
  );
}
