// A part: its coats as layers one over the other, what is on, what comes next and when; edited and cloned by a lead.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { filledOf } from "../api/compute";
import { at } from "../api/entry";
import { meQuery, partQuery, sheetsQuery } from "../api/queries";
import { useElapsed, shopTime } from "../ui/clock";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { RecoatLine } from "../ui/RecoatLine";
import { Failed, Loading } from "../ui/states";
import { Words } from "../ui/Words";
import { Story } from "./Story";
import { offered, useWords } from "../api/forms";

type Coat = Schemas["CoatView"];
export function PartView() {
  const { id } = useParams({ from: "/parts/$id" });
  const part = useQuery(partQuery(id));
  const me = useQuery(meQuery).data;
  const [editing, setEditing] = useState(false);
  const [cloning, setCloning] = useState(false);
  const elapsed = useElapsed(part.data?.received ?? 0, me?.clock_rate ?? 1);
  const navigate = useNavigate();
  if (part.isPending) return <Loading what="the part" />;
  if (part.error && !part.data) return <Failed error={part.error} again={() => void part.refetch()} />;
  const p = part.data;
  const zone = me?.zone ?? "UTC";
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1 className="ellipsis" title={p.name}>
          {p.name}
        </h1>
        <span className="slate">{p.next}</span>
        <Link to="/parts" className="export">
          All parts
        </Link>
        <Link to="/trace" search={{ part: p.id }} className="export">
          Trace it
        </Link>
        <Link to="/labels" search={{ of: `part:${p.id}` }} className="export">
          Its label
        </Link>
        {p.may_edit && (
          <>
            <Button
              variant="outlined"
              name="clone-part"
              aria-haspopup="dialog"
              onClick={() => setCloning(true)}
            >
              Clone it
            </Button>
            <Button
              variant="outlined"
              name="edit-coats"
              aria-haspopup="dialog"
              onClick={() => setEditing(true)}
            >
              Edit the coats
            </Button>
          </>
        )}
      </div>
      {p.zones.length > 0 && <p className="small slate">Zones: {p.zones.join(", ")}</p>}
      <div className="list layers" tabIndex={0}>
        {p.coats.map((c, i) => (
          <section
            key={c.id}
            className={`layer ${c.batches.length > 0 ? "on" : ""} ${c.is_next ? "next-coat" : ""}`}
          >
            <Layer no={i + 1} on={c.batches.some((b) => b.ended)} />
            <div>
              <h2>
                {c.name}
                {c.is_next && <span className="word-in"> next</span>}
              </h2>
              <p>
                {c.product ?? "no product planned"}
                {c.method_word && `, by ${c.method_word}`}
                {c.film && `, ${c.film.text} ${c.film_is ?? "wet"}`}
              </p>
              {c.prepare && <p className="small slate">Before it: {c.prepare}</p>}
              {c.window && c.then && (
                <RecoatLine
                  clock={{ ...c.window, other: null }}
                  elapsed={elapsed}
                  title={`Then ${c.then}${c.window_by === "pair" ? ", by the pair" : ""}:`}
                  zone={zone}
                  asOf={me?.now ?? new Date().toISOString()}
                />
              )}
            </div>
            <div>
              {c.batches.map((b) => (
                <div key={b.id}>
                  <Link to="/batches/$id" params={{ id: b.id }} search={{}} className="mono">
                    {String(b.number).padStart(4, "0")}
                  </Link>{" "}
                  <span className="small">
                    {b.of_job && `coat ${b.of_job}, `}
                    {b.state.replace("_", " ")}, {shopTime(b.ended ?? b.begun, zone, me?.now)}
                  </span>
                </div>
              ))}
              {(c.is_next || c.batches.length === 0) && c.batches.every((b) => b.state !== "open") && (
                <Button
                  variant={c.is_next ? "contained" : "outlined"}
                  name={`begin-${c.name}`}
                  onClick={() => void navigate({ to: "/begin", search: { part: p.name, coat: c.name } })}
                >
                  Begin it
                </Button>
              )}
            </div>
          </section>
        ))}
        <section className="part-story">
          <h2>Its story</h2>
          <Story part={p.id} />
        </section>
      </div>
      {editing && <CoatsDialog part={p} close={() => setEditing(false)} />}
      {cloning && <CloneDialog part={p} close={() => setCloning(false)} />}
    </>
  );
}

/** A layer in section: filled once it is on. */
function Layer({ no, on }: { no: number; on: boolean }) {
  return (
    <svg width="72" height="48" viewBox="0 0 72 48" aria-hidden>
      <path d="M2 34h68v12H2z" fill="var(--vial)" stroke="var(--ink)" strokeWidth="2" />
      <path
        d="M2 18q34 -10 68 0v14H2z"
        fill={on ? "var(--base)" : "none"}
        stroke="var(--ink)"
        strokeWidth="2.5"
        strokeDasharray={on ? undefined : "5 4"}
      />
      <text x="36" y="30" textAnchor="middle" className="tick-text">
        {no}
      </text>
    </svg>
  );
}

type Row = {
  key: string;
  id?: string;
  name: string;
  sheet: string;
  method: Schemas["Method"] | "";
  film_um: string;
  film_is: Schemas["FilmIs"] | "";
  prepare: string;
};
const blank = (): Row => ({
  key: v7(),
  name: "",
  sheet: "",
  method: "",
  film_um: "",
  film_is: "wet",
  prepare: "",
});
const asRow = (c: Coat): Row => ({
  key: c.id,
  id: c.id,
  name: c.name,
  sheet: c.sheet ?? "",
  method: c.method ?? "",
  film_um: c.film?.text ?? "",
  film_is: c.film_is ?? "wet",
  prepare: c.prepare ?? "",
});

function CoatsDialog({ part, close }: { part: Schemas["PartView"]; close: () => void }) {
  const words = useWords();
  const client = useQueryClient();
  const sheets = useQuery(sheetsQuery).data ?? [];
  const [rows, setRows] = useState<Row[]>(() => part.coats.map(asRow));
  const save = useMutation({
    mutationFn: () => {
      const coats = rows.map(({ name, id = "", sheet, method, film_um, film_is, prepare }) => ({
        name,
        ...filledOf({ id, sheet, method, film_um, film_is, prepare }),
      }));
      return ask(api.PUT("/api/v1/parts/{id}/coats", { params: { path: { id: part.id } }, body: { coats } }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["parts"] });
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  const set = (i: number, change: Partial<Row>) =>
    setRows((all) => all.map((r, j) => (i === j ? { ...r, ...change } : r)));
  const move = (i: number, by: number) =>
    setRows((all) => {
      const next = [...all];
      const [row] = next.splice(i, 1);
      if (row) next.splice(i + by, 0, row);
      return next;
    });
  const select = (i: number, name: "sheet" | "method", label: string, options: [string, string][]) => (
    <Choice
      name={`coat-${i}-${name}`}
      label={label}
      value={rows[i]?.[name] ?? ""}
      set={(v) => set(i, { [name]: v })}
      error={at(`coats[${i}].${name}`, refusals)}
      options={[["", " "], ...options]}
    />
  );
  return (
    <FormDialog
      title={`Coats of ${part.name}`}
      action="Save"
      name="save-coats"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <div className="list" style={{ maxHeight: "60vh", display: "grid", gap: 14 }}>
        {rows.map((row, i) => (
          <fieldset key={row.key} className="coat-row">
            <legend>{i + 1}</legend>
            <div className="fields">
              <Words
                name={`coat-${i}`}
                label="Coat"
                value={row.name}
                set={(text) => set(i, { name: text })}
                most={20}
                wrong={at(`coats[${i}].name`, refusals)}
              />
              {select(
                i,
                "sheet",
                "Product",
                sheets.map((s) => [s.id, s.name]),
              )}
              {select(i, "method", "Method", offered(words.method))}
              <Field
                name={`coat-${i}-film`}
                label="Film"
                value={row.film_um}
                onChange={(v) => set(i, { film_um: v })}
                error={at(`coats[${i}].film_um`, refusals)}
              />
              <Choice
                name={`coat-${i}-film_is`}
                label="This film is"
                value={row.film_is}
                set={(v) => set(i, { film_is: v as Row["film_is"] })}
                options={[
                  ["wet", "wet"],
                  ["dry", "dry"],
                ]}
              />
              <TextField
                label="Preparation before it"
                value={row.prepare}
                onChange={(e) => set(i, { prepare: e.target.value })}
                slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 300 } }}
              />
            </div>
            <div className="actions">
              <button type="button" className="link" disabled={i === 0} onClick={() => move(i, -1)}>
                Earlier
              </button>
              <button
                type="button"
                className="link"
                disabled={i === rows.length - 1}
                onClick={() => move(i, 1)}
              >
                Later
              </button>
              <button
                type="button"
                className="link"
                onClick={() => setRows((all) => all.filter((_, j) => j !== i))}
              >
                Take it out
              </button>
            </div>
          </fieldset>
        ))}
      </div>
      <Button variant="outlined" name="add-coat" onClick={() => setRows((all) => [...all, blank()])}>
        Add a coat
      </Button>
      {save.error && <p className="refusal">{save.error.message}</p>}
    </FormDialog>
  );
}

function CloneDialog({ part, close }: { part: Schemas["PartView"]; close: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const id = useRef(v7());
  const [name, setName] = useState("");
  const clone = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/parts/{id}/clone", {
          params: { path: { id: part.id } },
          body: { id: id.current, name },
        }),
      ),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: ["parts"] });
      close();
      await navigate({ to: "/parts/$id", params: { id: made.id } });
    },
  });
  return (
    <FormDialog
      title={`Another like ${part.name}`}
      action="Make it"
      name="save-clone"
      busy={clone.isPending}
      submit={() => clone.mutate()}
      close={close}
    >
      <p>With the same zones and coats, nothing on it yet.</p>
      <Words
        name="clone-name"
        label="Name"
        value={name}
        set={setName}
        most={80}
        wrong={clone.error?.message}
        autoFocus
      />
    </FormDialog>
  );
}
