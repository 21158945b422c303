// One sheet: a new one by its kind, or an edit that becomes a new version. Batches begun keep the version they pinned.
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { useForms } from "../api/forms";
import { boardQuery, meQuery, schoolsQuery, sheetKindsQuery, sheetQuery, sheetsQuery } from "../api/queries";
import { Failed, Loading } from "../ui/states";
import { AtWork } from "./AtWork";
import { Compare } from "./Compare";
import { Curves } from "./Curves";
import { fieldOf, inWords, labelOf } from "./fields";
import { asForm, BLANK, byKind, copied, wire, type Form, type Row } from "./form";
import { KindChoice } from "./KindChoice";
import { Paper } from "./Paper";
import { filledBeside, Groups, Hazards, OneField } from "./SheetFields";
import { Versions } from "./Versions";

export function SheetEditor() {
  const { id } = useParams({ from: "/sheets/$id" });
  const fresh = id === "new";
  const stored = useQuery({ ...sheetQuery(id), enabled: !fresh });
  const kinds = useQuery(sheetKindsQuery);
  if (kinds.isPending || (!fresh && stored.isPending)) return <Loading what="the sheet" />;
  if (stored.error && !stored.data)
    return <Failed error={stored.error} again={() => void stored.refetch()} />;
  if (kinds.error && !kinds.data) return <Failed error={kinds.error} again={() => void kinds.refetch()} />;
  const newest = stored.data?.[0];
  return (
    <Editor
      key={newest?.version ?? "new"}
      id={id}
      kinds={kinds.data}
      newest={newest}
      versions={stored.data ?? []}
    />
  );
}

type Kind = Schemas["SheetKind"];

function Editor({
  id,
  kinds,
  newest,
  versions,
}: {
  id: string;
  kinds: Kind[];
  newest?: Row;
  versions: Row[];
}) {
  const most = useForms().most;
  const [form, setForm] = useState<Form>(() => (newest ? asForm(newest) : BLANK));
  const [kind, setKind] = useState<Kind | undefined>(() => kinds.find((k) => k.value === newest?.kind));
  const [more, setMore] = useState(false);
  const me = useQuery(meQuery).data;
  const client = useQueryClient();
  const navigate = useNavigate();
  const held = useDebounced(JSON.stringify(form));
  const dry = useQuery({
    queryKey: ["understand", held],
    queryFn: () =>
      ask(api.POST("/api/v1/sheets/understand", { body: { sheet: wire(JSON.parse(held) as Form, most) } })),
    placeholderData: keepPreviousData,
    gcTime: 0,
    enabled: kind !== undefined,
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
      await client.invalidateQueries({ queryKey: ["shop", "first-steps"] });
      // A shop that has begun nothing yet goes on with its first steps.
      const begun = client.getQueryData(boardQuery.queryKey)?.batches.length ?? 0;
      await navigate({ to: newest || begun > 0 ? "/sheets" : "/" });
    },
  });
  if (!kind) {
    return (
      <div className="form sheet-form">
        <div className="board-head">
          <h1>New sheet</h1>
          <span className="slate">what kind of product is it? Its data sheet lies beside you</span>
        </div>
        <KindChoice
          kinds={kinds}
          choose={(k) => {
            setKind(k);
            setForm((f) => byKind(f, k));
          }}
        />
        <CopyFrom
          take={(row) => {
            setForm(copied(row));
            setKind(kinds.find((k) => k.value === row.kind));
          }}
        />
      </div>
    );
  }
  const saved = save.error instanceof Refused ? (save.error.problem.fields ?? []) : [];
  // While typing only what was typed wrongly is marked; what is still missing is said beside the button.
  const refusals = [
    ...saved,
    ...(dry?.refusals ?? []).filter((r) => typeof form[r.field ?? ""] === "string" && form[r.field ?? ""]),
    ...(dry?.at_work.contradictions ?? []).map((c): Schemas["Refusal"] => ({
      why: "bad_input",
      code: "contradicts",
      field: c.field,
      text: `contradicts ${inWords(c.other)}`,
    })),
  ];
  const set = (name: string, value: string | boolean | string[]) => {
    save.reset();
    setForm((f) => ({ ...f, [name]: value }));
  };
  const mayEdit = me?.may_edit_sheets ?? false;
  const fields = { form, fixed: !mayEdit, set, shown: dry?.shown, refusals };
  const thinned = typeof form.thinner_max_pct === "string" && form.thinner_max_pct !== "";
  const first = [
    ...kind.chooses,
    ...kind.asks.filter((a) => form.charge !== "at_gun" || !a.startsWith("pot_life")),
    ...(thinned && kind.asks.includes("thinner_max_pct") ? ["thinner_basis", "thinner_density_kg_l"] : []),
  ];
  const asked = new Set(first);
  const missing = dry?.at_work.missing ?? [];
  return (
    <form
      className="form sheet-form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <div className="board-head no-print">
        <h1 className="ellipsis sheet-name">{newest ? newest.sheet.name : "New sheet"}</h1>
        <KindSwitch
          kinds={kinds}
          kind={kind}
          fixed={!mayEdit}
          choose={(k) => {
            setKind(k);
            // What was typed stays; only what the new kind chooses for itself changes.
            setForm((f) => byKind(f, k));
          }}
        />
        {newest && (
          <span className="slate nowrap">
            version {newest.edition}; saving makes version {newest.edition + 1}
          </span>
        )}
        {newest && (
          <a className="export" href={`/api/v1/sheets/${id}/sheet.json`} download>
            Take as JSON
          </a>
        )}
        {newest && (
          <Button variant="outlined" name="print-sheet" onClick={() => window.print()}>
            Print
          </Button>
        )}
      </div>
      <div className="sheet-two no-print">
        <div className="sheet-typed">
          <div className="asked" hidden={more}>
            <TextField
              label="Name on the can"
              name="name"
              className={`span${3 - Math.min(kind.chooses.length, 2)}`}
              value={typeof form.name === "string" ? form.name : ""}
              onChange={(e) => set("name", e.target.value)}
              error={Boolean(at("name", refusals))}
              helperText={at("name", refusals)}
              disabled={!mayEdit}
              autoFocus={!newest}
              slotProps={{ htmlInput: { maxLength: 90 }, inputLabel: { shrink: true } }}
            />
            {first.map((name) => {
              const of = fieldOf(name);
              return of && <OneField key={name} of={of} name={name} fields={fields} />;
            })}
          </div>
          <div hidden={!more}>
            <Groups asked={asked} fields={fields} />
            {mayEdit && <Schools fill={(fills) => setForm((f) => ({ ...f, ...fills }))} />}
            {newest && <Compare id={id} />}
            {newest && <Versions id={id} versions={versions} />}
            {newest && <Curves id={id} edition={newest.edition} />}
          </div>
        </div>
        <AtWork work={dry?.at_work}>
          <Hazards fields={fields} />
        </AtWork>
      </div>
      <div className="actions sheet-save no-print">
        {mayEdit ? (
          <Button
            type="submit"
            variant="contained"
            disabled={save.isPending || missing.length > 0}
            name="save-sheet"
          >
            {newest ? "Save as a new version" : "Keep this sheet"}
          </Button>
        ) : (
          <span className="slate">A lead or the owner edits sheets.</span>
        )}
        <Button variant="outlined" name="sheet-more" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Back to the first figures" : `More the sheet says, ${filledBeside(form, asked)} filled`}
        </Button>
        {save.error ? (
          <span className="refusal" role="alert">
            {saved[0]?.field ? `${labelOf(saved[0].field)}: ` : ""}
            {save.error.message}
          </span>
        ) : missing.length > 0 ? (
          <span className="slate needs">
            Still needed: {missing.slice(0, 3).map(inWords).join(", ")}
            {missing.length > 3 && ` and ${missing.length - 3} more`}
          </span>
        ) : (
          dry?.ratio && <span className="slate">{dry.ratio}</span>
        )}
      </div>
      {newest && <Paper row={newest} shown={dry?.shown} />}
    </form>
  );
}

/** The kind may be chosen anew half way. */
function KindSwitch(props: { kinds: Kind[]; kind: Kind; fixed: boolean; choose: (kind: Kind) => void }) {
  const { kinds, kind, fixed, choose } = props;
  return (
    <TextField
      select
      className="kind-switch"
      name="kind"
      value={kind.value}
      disabled={fixed}
      onChange={(e) => {
        const other = kinds.find((k) => k.value === e.target.value);
        if (other) choose(other);
      }}
      slotProps={{ select: { native: true }, htmlInput: { "aria-label": "Kind of product" } }}
    >
      {kinds.map((k) => (
        <option key={k.value} value={k.value}>
          {k.word}
        </option>
      ))}
    </TextField>
  );
}

/** A sheet much like one that is here already. */
function CopyFrom({ take }: { take: (row: Row) => void }) {
  const client = useQueryClient();
  const sheets = useQuery(sheetsQuery).data ?? [];
  if (sheets.length === 0) return null;
  return (
    <div className="copy-from">
      <TextField
        select
        name="copy-from"
        label="Or much like one that is here"
        value=""
        onChange={(e) => {
          void client.fetchQuery(sheetQuery(e.target.value)).then((versions) => {
            if (versions[0]) take(versions[0]);
          });
        }}
        slotProps={{ inputLabel: { shrink: true }, select: { native: true } }}
      >
        <option value=""> </option>
        {sheets.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </TextField>
    </div>
  );
}

/** Where good shops differ: choosing a school fills its figures, which stay editable. */
function Schools({ fill }: { fill: (fills: Record<string, string>) => void }) {
  const schools = useQuery(schoolsQuery).data ?? [];
  const matters = [...new Set(schools.map((s) => s.matter))];
  return (
    <details className="group">
      <summary>
        <b>Schools of the trade</b>
        <span className="slate small">choose one and its figures stand here; the data sheet rules</span>
      </summary>
      <div className="asked">
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
