// One sheet: a new one, or an edit that becomes a new version. Batches begun keep the version they pinned.
import { Button, TextField } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, Refused } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { meQuery, schoolsQuery, sheetQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Failed, Loading } from "../ui/states";
import { Curves } from "./Curves";
import { asForm, BLANK, rowsOf, slot, wire, type Form, type Row } from "./form";
import { Handling } from "./Handling";
import { HAZARDS } from "./hazards";
import { Versions } from "./Versions";

const BASES: [string, string][] = [
  ["by_volume", "by volume"],
  ["by_weight", "by weight"],
  ["percent_by_weight", "percent on base, by weight"],
  ["percent_by_volume", "percent on base, by volume"],
  ["by_kit", "as the kit is filled"],
];
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
  const [form, setForm] = useState<Form>(() => (newest ? asForm(newest) : BLANK));
  const me = useQuery(meQuery).data;
  const client = useQueryClient();
  const navigate = useNavigate();
  const held = useDebounced(JSON.stringify(form));
  const dry = useQuery({
    queryKey: ["understand", held],
    queryFn: () =>
      ask(
        api.POST("/api/v1/sheets/understand", { body: { sheet: wire(JSON.parse(held) as Form) as never } }),
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
              body: { seen_edition: newest.edition, sheet: wire(form) as never },
            }),
          )
        : ask(api.POST("/api/v1/sheets", { body: { sheet: wire(form) as never } })),
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
  const hardened = form.has_hardener === true;
  const hazards = Array.isArray(form.hazards) ? form.hazards : [];
  const basis = text("basis");
  const percent = basis === "percent_by_weight" || basis === "percent_by_volume";
  const kit = basis === "by_kit";
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
      <fieldset>
        <legend>Product</legend>
        <div className="grid4">
          {words("name", "Name", "as on the can", 90)}
          {words("label", "Short label", "14 letters; proposed when empty", 20)}
          {choice("charge", "Mixed", [
            ["pot", "in a pot"],
            ["at_gun", "at the gun"],
          ])}
          {quantity("solids_pct", "Volume solids")}
        </div>
        <label className="tick">
          <input
            type="checkbox"
            name="has_hardener"
            checked={hardened}
            disabled={!me?.may_edit_sheets}
            onChange={(e) => set("has_hardener", e.target.checked)}
          />
          It has a second component (hardener, catalyst, activator)
        </label>
      </fieldset>
      <fieldset>
        <legend>Proportion</legend>
        <div className="grid4">
          {quantity("base_density_kg_l", "Density of base A")}
          {hardened && quantity("hardener_density_kg_l", "Density of hardener B")}
          {hardened && choice("basis", "Basis of the ratio", BASES)}
          {hardened && !percent && !kit && quantity("ratio", "Ratio A : B", "such as 4:1")}
          {hardened && percent && quantity("hardener_pct", "Hardener on base")}
          {hardened && percent && quantity("band_low_pct", "Band, least")}
          {hardened && percent && quantity("band_high_pct", "Band, most")}
          {hardened && quantity("tolerance_pct", "Tolerance on B per A", "5 % when empty")}
          {hardened &&
            quantity("kit_base_g", "Kit: base in its can", kit ? "by weight" : "when sold as a kit")}
          {hardened && quantity("kit_hardener_g", "Kit: hardener in its can")}
        </div>
        <div className="grid4">
          {quantity("thinner_max_pct", "Thinner, at most", "empty: never thinned")}
          {text("thinner_max_pct") &&
            choice("thinner_basis", "Per cent of", [
              ["of_base", "the base"],
              ["of_mixed", "base and hardener"],
              ["of_finished", "the finished mix"],
            ])}
          {text("thinner_max_pct") && quantity("thinner_density_kg_l", "Density of thinner")}
        </div>
      </fieldset>
      <fieldset>
        <legend>Additives</legend>
        {rowsOf(form, "additives").map((i) => (
          <div className="grid4" key={i}>
            {words(slot("additives", i, "name"), "Additive", "pearl, flattening paste …", 24)}
            {quantity(
              slot("additives", i, "dose_g_l"),
              "Dose in sprayable paint",
              "by volume of A, B and thinner",
            )}
            {quantity(slot("additives", i, "dose_pct"), "or on the base", "by weight")}
            {quantity(slot("additives", i, "density_kg_l"), "Its density", "empty: adds no volume")}
          </div>
        ))}
      </fieldset>
      <fieldset>
        <legend>Clocks</legend>
        <div className="grid4">
          {hardened && text("charge") === "pot" && quantity("pot_life_s", "Pot life", "such as 4 h")}
          {hardened && text("charge") === "pot" && quantity("pot_life_at_c", "stated at")}
          {hardened && text("charge") === "pot" && quantity("induction_s", "Induction")}
          {quantity("recoat_min_s", "Recoat, earliest")}
          {quantity("recoat_max_s", "Recoat, latest")}
          {quantity("recoat_at_c", "stated at")}
        </div>
        {rowsOf(form, "times").map((i) => (
          <div className="grid5" key={i}>
            {quantity(slot("times", i, "at_c"), "And at", "a further temperature")}
            {hardened && text("charge") === "pot" && quantity(slot("times", i, "pot_life_s"), "Pot life")}
            {hardened && text("charge") === "pot" && quantity(slot("times", i, "induction_s"), "Induction")}
            {quantity(slot("times", i, "recoat_min_s"), "Earliest recoat")}
            {quantity(slot("times", i, "recoat_max_s"), "Latest recoat")}
          </div>
        ))}
      </fieldset>
      <fieldset>
        <legend>Film and conditions</legend>
        <div className="grid4">
          {quantity("wet_um", "Wet film, aim")}
          {quantity("wet_min_um", "Wet film, least")}
          {quantity("wet_max_um", "Wet film, most")}
          {choice("film_proof", "The film is proved by", [
            ["comb", "the comb, in every zone"],
            ["use", "what was weighed and is gone"],
            ["look", "the eye"],
            ["not_asked", "nothing: no film is asked"],
          ])}
          {choice("stream", "Stream school", [
            ["general_pot", "6 to 8 in, general pot"],
            ["high_transfer", "8 to 10 in, high transfer"],
            ["industrial", "8 to 12 in, industrial"],
          ])}
          {quantity("temp_min_c", "Coldest")}
          {quantity("temp_max_c", "Hottest")}
          {quantity("margin_min_dk", "Least above dew point", "empty: not applicable")}
          {quantity("rh_max_pct", "Most humidity", "empty: not applicable")}
        </div>
      </fieldset>
      <Handling form={form} quantity={quantity} choice={choice} words={words} tick={tick} />
      <fieldset>
        <legend>Hazards</legend>
        <div className="grid4">
          {HAZARDS.map(([value, word]) => (
            <label key={value} className="tick">
              <input
                type="checkbox"
                name={`hazard-${value}`}
                checked={hazards.includes(value)}
                disabled={!me?.may_edit_sheets}
                onChange={(e) =>
                  set("hazards", e.target.checked ? [...hazards, value] : hazards.filter((h) => h !== value))
                }
              />
              {word}
            </label>
          ))}
        </div>
      </fieldset>
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
