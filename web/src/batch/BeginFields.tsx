// The fields of a batch that is begun. A coat that is planned for the part offers its plan.
import { Autocomplete, Button, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Refusal, Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { offered, useWords } from "../api/forms";
import { partQuery, partsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import type { BeginForm } from "./beginForm";

type Props = {
  sheets: Schemas["SheetLine"][];
  form: BeginForm;
  put: (change: Partial<BeginForm>) => void;
  /** Where what stands in a field comes from, while nobody typed over it. */
  from: (name: keyof BeginForm) => string | undefined;
  understood: Record<string, Schemas["Shown"]> | undefined;
  refusals: Refusal[] | null | undefined;
  /** The area comes from shapes. */
  byShapes: boolean;
};

export function BeginFields({ sheets, form, put, from, understood, refusals, byShapes }: Props) {
  const words = useWords();
  const parts = useQuery(partsQuery(useDebounced(form.part.trim(), 150)));
  const part = parts.data?.find((p) => p.name.toLowerCase() === form.part.trim().toLowerCase());
  // The coat as it is planned for this part fills what is not typed yet.
  const known = useQuery({ ...partQuery(part?.id ?? ""), enabled: Boolean(part) }).data;
  const chosen = sheets.find((s) => s.id === form.sheet);
  const planned = known?.coats.find((c) => c.name.toLowerCase() === form.coat.trim().toLowerCase());
  const usePlan = () => {
    if (!planned) return;
    put({
      sheet: planned.sheet ?? form.sheet,
      method: planned.method ?? form.method,
      film_um: planned.film?.text ?? form.film_um,
      film_is: planned.film_is ?? form.film_is,
    });
  };
  const differs =
    planned && (planned.sheet || planned.method || planned.film)
      ? (planned.sheet ?? form.sheet) !== form.sheet || (planned.method ?? form.method) !== form.method
      : false;
  const quantity = (
    name:
      | "area_m2"
      | "film_um"
      | "transfer_pct"
      | "thinner_pct"
      | "coat_count"
      | "piece_count"
      | "side_count"
      | "side_m2",
    label: string,
    hint?: string,
  ) => (
    <Field
      name={name}
      label={label}
      value={form[name]}
      onChange={(text) => put({ [name]: text })}
      understood={understood}
      error={at(name, refusals)}
      from={from(name)}
      hint={hint}
    />
  );
  return (
    <>
      <h1>Begin a batch</h1>
      <Choice
        name="sheet"
        label="Sheet"
        value={form.sheet}
        set={(sheet) => put({ sheet })}
        hint={[chosen?.ratio, from("sheet")].filter(Boolean).join(", ") || " "}
        options={[["", " "], ...sheets.map((s) => [s.id, s.name] as const)]}
      />
      {differs && planned && (
        <div className="advice">
          Planned for this coat:{" "}
          {[planned.product, planned.method_word, planned.film?.text].filter(Boolean).join(", ")}.{" "}
          <Button variant="outlined" name="use-plan" onClick={usePlan}>
            Take the plan
          </Button>
        </div>
      )}
      <div className="fields">
        <Autocomplete
          freeSolo
          options={parts.data?.map((p) => p.name) ?? []}
          inputValue={form.part}
          onInputChange={(_, v) => put({ part: v })}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Part"
              name="part"
              error={Boolean(at("part", refusals))}
              helperText={at("part", refusals) ?? "typed names are kept"}
            />
          )}
        />
        <Autocomplete
          freeSolo
          options={part?.coats ?? []}
          inputValue={form.coat}
          onInputChange={(_, v) => put({ coat: v })}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Coat"
              name="coat"
              error={Boolean(at("coat", refusals))}
              helperText={at("coat", refusals) ?? "primer, finish …"}
            />
          )}
        />
        <Choice
          name="substrate"
          label="It goes on"
          value={form.substrate}
          set={(substrate) => put({ substrate })}
          error={at("substrate", refusals)}
          hint={from("substrate") ?? " "}
          options={offered(words.substrate, "not said")}
        />
        <Choice
          name="method"
          label="Method"
          value={form.method}
          set={(method) => put({ method })}
          error={at("method", refusals)}
          hint={from("method") ?? " "}
          options={offered(words.method, "as the sheet is mixed")}
        />
        {!byShapes && quantity("area_m2", "Area")}
        <TextField
          label="Zones"
          name="zones"
          value={form.zones}
          onChange={(e) => put({ zones: e.target.value })}
          error={Boolean(at("zones", refusals))}
          helperText={at("zones", refusals) ?? from("zones") ?? "optional: tower, hull: 8 m², skirt"}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        {quantity("film_um", "Film wanted")}
        <Choice
          name="film_is"
          label="This film is"
          value={form.film_is}
          set={(film_is) => put({ film_is })}
          hint={from("film_is") ?? " "}
          options={[
            ["wet", "wet"],
            ["dry", "dry"],
          ]}
        />
        {quantity("transfer_pct", "Transfer efficiency", "what stays on the part")}
        {quantity("thinner_pct", "Thinner", chosen ? (chosen.thinner ?? "none by sheet") : " ")}
        {(chosen?.coats_most || form.coat_count) &&
          quantity("coat_count", "Coats of it, as one job", `the sheet allows ${chosen?.coats_most ?? 1}`)}
      </div>
      <details className="in-pieces" open={form.piece_count !== ""}>
        <summary>In pieces, side by side</summary>
        <div className="fields">
          {quantity("piece_count", "Pieces", "two dozen shutters: 24")}
          {quantity("side_count", "Sides of each")}
          {quantity("side_m2", "One side of one", "the area is reckoned from it")}
        </div>
      </details>
    </>
  );
}
