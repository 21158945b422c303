// One sheet: a new one, or an edit that becomes a new version. Batches begun keep the version they pinned.
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, Refused } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { meQuery, schoolsQuery, sheetQuery } from "../api/queries";
import { useForms } from "../api/forms";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Failed, Loading } from "../ui/states";
import { Curves } from "./Curves";
import { asForm, BLANK, wire, type Form, type Row } from "./form";
import { Handling } from "./Handling";
import { Additives, Clocks, FilmAndConditions, Hazards, Product, Proportion } from "./SheetFields";
import { Versions } from "./Versions";

export function SheetEditor() {
  const { id } = useParams({ from: "/sheets/$id" });
  const fresh = id === "new";
  const stored = useQuery({ ...sheetQuery(id), enabled: !fresh });
  if (!fresh && stored.isPending) return <Loading what="the sheet" />;
  if (stored.error) return <Failed error={stored.error} again={() => void stored.refetch()} />;
  const newest = stored.data?.[0];
  return <Editor key={newest?.version ?? "new"} id={id} newest={newest} versions={stored.data ?? []} />;
}

function Editor({ id, newest, versions }: { id: string; newest?: Row; versions: Row[] }) {
  const most = useForms().most;
  const [form, setForm] = useState<Form>(() => (newest ? asForm(newest) : BLANK));
  const me = useQuery(meQuery).data;
  const client = useQueryClient();
  const navigate = useNavigate();
  const held = useDebounced(JSON.stringify(form));
  const dry = useQuery({
    queryKey: ["understand", held],
    queryFn: () =>
      ask(
        api.POST("/api/v1/sheets/understand", {
          body: { sheet: wire(JSON.parse(held) as Form, most) },
        }),
      ),
    placeholderData: keepPreviousData,
    gcTime: 0,
  }).data;
  const save = useMutation({
    mutationFn: () =>
      newest
        ? ask(
            api.PUT("/api/v1/sheets/{id}", {
              params: { path: { id } },
              body: { seen_edition: newest.edition, sheet: wire(form, most) },
            }),
          )
        : ask(api.POST("/api/v1/sheets", { body: { sheet: wire(form, most) } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["sheets"] });
      await navigate({ to: "/sheets" });
    },
  });
  const saved = save.error instanceof Refused ? (save.error.problem.fields ?? []) : [];
  // While typing only what was typed wrongly is marked; what is still missing is said after a try to save.
  const refusals = [
    ...saved,
    ...(dry?.refusals ?? []).filter((r) => typeof form[r.field ?? ""] === "string" && form[r.field ?? ""]),
  ];
  const text = (name: string) => (typeof form[name] === "string" ? (form[name] as string) : "");
  const set = (name: string, value: string | boolean | string[]) => {
    save.reset();
    setForm((f) => ({ ...f, [name]: value }));
  };
  const quantity = (name: string, label: string, hint?: string) => (
    <Field
      name={name}
      label={label}
      value={text(name)}
      onChange={(v) => set(name, v)}
      understood={dry?.shown}
      error={at(name, refusals)}
      hint={hint}
      disabled={!me?.may_edit_sheets}
    />
  );
  const choice = (name: string, label: string, options: [string, string][]) => (
    <Choice
      name={name}
      label={label}
      value={text(name)}
      set={(v) => set(name, v)}
      error={at(name, refusals)}
      hint=" "
      disabled={!me?.may_edit_sheets}
      options={[["", " "], ...options]}
    />
  );
  const words = (name: string, label: string, hint: string, length: number) => (
    <TextField
      label={label}
      name={name}
      value={text(name)}
      onChange={(e) => set(name, e.target.value)}
      error={Boolean(at(name, refusals))}
      helperText={at(name, refusals) ?? hint}
      disabled={!me?.may_edit_sheets}
      slotProps={{ htmlInput: { maxLength: length }, inputLabel: { shrink: true } }}
    />
  );
  const tick = (name: string, label: string) => (
    <label className="tick">
      <input
        type="checkbox"
        name={name}
        checked={form[name] === true}
        disabled={!me?.may_edit_sheets}
        onChange={(e) => set(name, e.target.checked)}
      />
      {label}
    </label>
  );
  const fixed = !me?.may_edit_sheets;
  const fields = { form, fixed, text, set, quantity, choice, words, tick };
  return (
    <form
      className="form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <div className="board-head">
        <h1>{newest ? newest.sheet.name : "New sheet"}</h1>
        <span className="slate">
          {newest
            ? `version ${newest.edition}; saving makes version ${newest.edition + 1}`
            : "type any unit; it says what it understood"}
        </span>
        {newest && (
          <a className="export" href={`/api/v1/sheets/${id}/sheet.json`} download>
            Take as JSON
          </a>
        )}
      </div>
      {me?.may_edit_sheets && <Schools fill={(fills) => setForm((f) => ({ ...f, ...fills }))} />}
      <Product {...fields} />
      <Proportion {...fields} />
      <Additives {...fields} />
      <Clocks {...fields} />
      <FilmAndConditions {...fields} />
      <Handling {...fields} />
      <Hazards {...fields} />
      <div className="actions" style={{ marginTop: 16 }}>
        {me?.may_edit_sheets ? (
          <Button type="submit" variant="contained" disabled={save.isPending} name="save-sheet">
            {newest ? "Save as a new version" : "Save the sheet"}
          </Button>
        ) : (
          <span className="slate">A lead or the owner edits sheets.</span>
        )}
        {save.error && (
          <span className="refusal" role="alert">
            {saved[0]?.field ? `${saved[0].field.replaceAll("_", " ")}: ` : ""}
            {save.error.message}
          </span>
        )}
        {!save.error && dry?.ratio && <span className="slate">{dry.ratio}</span>}
      </div>
      {newest && <Curves id={id} edition={newest.edition} />}
      {newest && <Versions id={id} versions={versions} />}
    </form>
  );
}

/** Where good shops differ: choosing a school fills its figures, which stay editable. */
function Schools({ fill }: { fill: (fills: Record<string, string>) => void }) {
  const schools = useQuery(schoolsQuery).data ?? [];
  const matters = [...new Set(schools.map((s) => s.matter))];
  return (
    <details className="schools">
      <summary>Schools of the trade: choose one and its figures stand below; the data sheet rules</summary>
      <div className="grid4">
        {matters.map((matter) => (
          <TextField
            key={matter}
            select
            label={matter}
            name={`school-${matter}`}
            value=""
            onChange={(e) => {
              const school = schools.find((s) => s.matter === matter && s.name === e.target.value);
              if (school) fill(school.fills);
            }}
            slotProps={{ inputLabel: { shrink: true }, select: { native: true } }}
          >
            <option value=""> </option>
            {schools
              .filter((s) => s.matter === matter)
              .map((s) => (
                <option key={s.name} value={s.name}>
                  {s.name}
                </option>
              ))}
          </TextField>
        ))}
      </div>
    </details>
  );
}
