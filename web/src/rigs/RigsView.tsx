// Rigs: what stands between supply and nozzle, each with its book.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { meQuery, rigQuery, rigsQuery } from "../api/queries";
import { AskReason } from "../ui/AskReason";
import { shopTime } from "../ui/clock";
import { Field } from "../ui/Field";
import { RigDialog } from "./RigDialog";
import { RigLine } from "./RigLine";
import { KINDS } from "./words";

const KIND = Object.fromEntries(KINDS);

export function RigsView() {
  const rigs = useQuery(rigsQuery);
  const me = useQuery(meQuery).data;
  const [chosen, setChosen] = useState<string | null>(null);
  const [editing, setEditing] = useState<Schemas["RigView"] | "new" | null>(null);
  const here = chosen ?? rigs.data?.[0]?.id ?? null;
  if (rigs.error) return <p className="refusal main">{rigs.error.message}</p>;
  return (
    <div className="main rigs">
      <div className="board-head">
        <h1>Rigs</h1>
        {me?.may_edit_sheets && (
          <Button variant="contained" name="new-rig" onClick={() => setEditing("new")}>
            A new rig
          </Button>
        )}
      </div>
      {rigs.data?.length === 0 && (
        <p className="slate">
          No rig is kept yet. A rig with its hose and nozzle tells what a pressure gives before it is tried.
        </p>
      )}
      <div className="rigs-two">
        <ul className="rig-list" aria-label="Rigs of the shop">
          {rigs.data?.map((r) => (
            <li key={r.id}>
              <button
                type="button"
                className={`rig-row ${r.id === here ? "now" : ""}`}
                name={`rig-${r.rig.name}`}
                aria-current={r.id === here}
                onClick={() => setChosen(r.id)}
              >
                <b className="ellipsis">{r.rig.name}</b>
                <span className="small slate ellipsis">
                  {KIND[r.rig.kind]}, {r.rig.gun}
                  {r.retired ? ", not used any more" : ""}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {here && <OneRig id={here} edit={setEditing} mayEdit={me?.may_edit_sheets ?? false} />}
      </div>
      {editing && (
        <RigDialog
          rig={editing === "new" ? null : editing}
          close={(id) => {
            setEditing(null);
            if (id) setChosen(id);
          }}
        />
      )}
    </div>
  );
}

function OneRig({
  id,
  edit,
  mayEdit,
}: {
  id: string;
  edit: (rig: Schemas["RigView"]) => void;
  mayEdit: boolean;
}) {
  const client = useQueryClient();
  const rig = useQuery(rigQuery(id)).data;
  const me = useQuery(meQuery).data;
  const [form, setForm] = useState({ text: "", nozzle_mm: "", tip_code: "" });
  const [striking, setStriking] = useState<Schemas["RigLine"] | null>(null);
  const write = useMutation({
    mutationFn: ({ kind, payload }: { kind: string; payload: object }) =>
      ask(
        api.POST("/api/v1/rigs/{id}/entries", {
          params: { path: { id } },
          body: { id: v7(), kind, payload, ago_s: 0 } as never,
        }),
      ),
    onSuccess: async (now) => {
      client.setQueryData(["rigs", id], now);
      setForm({ text: "", nozzle_mm: "", tip_code: "" });
      setStriking(null);
      await client.invalidateQueries({ queryKey: ["rigs"] });
    },
  });
  if (!rig) return <p className="slate">Reading the rig.</p>;
  const refused = write.error instanceof Refused ? write.error.problem : null;
  const text = form.text.trim() ? { text: form.text } : {};
  const tipped = rig.rig.kind === "airless" || rig.rig.kind === "gel_coat_machine";
  const say = (kind: string, payload: object) => write.mutate({ kind, payload });
  return (
    <section className="one-rig" aria-label={rig.rig.name}>
      <div className="board-head">
        <h2>{rig.rig.name}</h2>
        {mayEdit && (
          <Button variant="outlined" name="edit-rig" onClick={() => edit(rig)}>
            Change it
          </Button>
        )}
      </div>
      <RigLine points={rig.points} />
      {rig.troubles.map((t) => (
        <p key={t} className="word-tell">
          {t}
        </p>
      ))}
      <form onSubmit={(e) => e.preventDefault()} className="rig-book">
        <div className="fields three">
          <TextField
            label="Found, with what, a note"
            name="text"
            value={form.text}
            onChange={(e) => setForm((f) => ({ ...f, text: e.target.value }))}
            error={Boolean(at("text", refused?.fields))}
            helperText={at("text", refused?.fields) ?? " "}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
          />
          {tipped ? (
            <TextField
              label="Tip now fitted"
              name="fitted_tip"
              value={form.tip_code}
              onChange={(e) => setForm((f) => ({ ...f, tip_code: e.target.value }))}
              error={Boolean(at("tip_code", refused?.fields))}
              helperText={at("tip_code", refused?.fields) ?? " "}
              slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 12 } }}
            />
          ) : (
            <Field
              name="fitted_mm"
              label="Nozzle now fitted"
              value={form.nozzle_mm}
              onChange={(nozzle_mm) => setForm((f) => ({ ...f, nozzle_mm }))}
              {...(at("nozzle_mm", refused?.fields) ? { error: at("nozzle_mm", refused?.fields) ?? "" } : {})}
            />
          )}
        </div>
        <div className="actions">
          <Button
            variant="contained"
            name="inspected"
            disabled={write.isPending}
            onClick={() => say("inspected", { sound: true, ...text })}
          >
            Inspected, sound
          </Button>
          <Button
            variant="outlined"
            name="not-sound"
            disabled={write.isPending}
            onClick={() => say("inspected", { sound: false, ...text })}
          >
            Not sound
          </Button>
          <Button
            variant="outlined"
            name="cleaned"
            disabled={write.isPending}
            onClick={() => say("cleaned", text)}
          >
            Cleaned
          </Button>
          <Button
            variant="outlined"
            name="fitted"
            disabled={write.isPending || !(form.nozzle_mm.trim() || form.tip_code.trim())}
            onClick={() =>
              say("fitted", {
                ...(form.nozzle_mm.trim() ? { nozzle_mm: form.nozzle_mm } : {}),
                ...(form.tip_code.trim() ? { tip_code: form.tip_code } : {}),
              })
            }
          >
            Fitted
          </Button>
          <Button
            variant="outlined"
            name="note-rig"
            disabled={write.isPending || !form.text.trim()}
            onClick={() => say("note", text)}
          >
            Note
          </Button>
        </div>
        {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
      </form>
      <table className="rows">
        <tbody>
          {rig.book.length === 0 && (
            <tr>
              <td className="slate">Nothing is written in its book yet.</td>
            </tr>
          )}
          {rig.book.map((l) => (
            <tr key={l.entry} className={l.struck ? "struck" : ""}>
              <td className="mono nowrap">{shopTime(l.at, me?.zone ?? "UTC", me?.now)}</td>
              <td>{l.text}</td>
              <td className="slate nowrap">{l.by}</td>
              <td>
                {l.may_strike && (
                  <button type="button" className="link" onClick={() => setStriking(l)}>
                    Strike
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {striking && (
        <AskReason
          title="Strike this entry"
          text="It stays in the book, struck through, with your name and reason."
          action="Strike it"
          hint="what was wrong with it"
          busy={write.isPending}
          error={at("reason", refused?.fields) ?? (refused && !refused.field ? refused.detail : undefined)}
          submit={(reason) => say("strike", { entry: striking.entry, reason })}
          close={() => setStriking(null)}
        />
      )}
    </section>
  );
}
