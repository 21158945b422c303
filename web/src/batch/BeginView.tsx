// Begin a batch: sheet, part, area, film wanted. The right half says what it means before anything is stored.
import { Autocomplete, Button, TextField } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { SUBSTRATES } from "../lists/substrates";
import { pieces, TakeOff, type PieceForm } from "../stations/mix/TakeOff";
import { METHODS } from "../parts/methods";
import { partQuery, partsQuery, sheetsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Empty, Failed, Loading } from "../ui/states";
import { WorkingSheet } from "../ui/WorkingSheet";

const EMPTY = {
  sheet: "",
  part: "",
  coat: "",
  zones: "",
  area_m2: "",
  film_um: "",
  film_is: "wet",
  transfer_pct: "65",
  thinner_pct: "",
  substrate: "",
  method: "",
};

const THINNER: Record<string, string> = {
  of_base: "of the base",
  of_mixed: "of base and hardener",
  of_finished: "of the finished mix",
};

function wire(form: typeof EMPTY, shapes: PieceForm[]) {
  const taken = pieces(shapes);
  const zones = form.zones.split(",").map((z) => z.trim());
  return {
    ...form,
    ...(taken ? { takeoff: taken, area_m2: 0 } : {}),
    zones: zones.filter(Boolean),
    thinner_pct: form.thinner_pct || null,
    substrate: form.substrate || null,
    method: form.method || null,
  };
}

export function BeginView() {
  const sheets = useQuery(sheetsQuery);
  const parts = useQuery(partsQuery);
  const { part: named, coat: asked } = useSearch({ from: "/begin" });
  const [form, setForm] = useState({ ...EMPTY, part: named ?? "", coat: asked ?? "" });
  const [shapes, setShapes] = useState<PieceForm[]>([]);
  const id = useRef(v7());
  const client = useQueryClient();
  const navigate = useNavigate();
  const held = useDebounced(JSON.stringify([form, shapes]));
  const ready = Boolean(
    form.sheet && form.part && form.coat && (form.area_m2 || pieces(shapes)) && form.film_um,
  );
  const dry = useQuery({
    queryKey: ["dry-begin", held],
    queryFn: () =>
      ask(
        api.POST("/api/v1/batches", {
          params: { query: { dry_run: true } },
          body: { id: v7(), wanted: wire(...(JSON.parse(held) as [typeof EMPTY, PieceForm[]])) as never },
        }),
      ),
    enabled: ready,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  }).data;
  const begin = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/batches", {
          params: { query: { dry_run: false } },
          body: { id: id.current, wanted: wire(form, shapes) as never },
        }),
      ),
    onSuccess: async (written) => {
      await client.invalidateQueries({ queryKey: ["board"] });
      if (written.view)
        await navigate({ to: "/batches/$id", params: { id: written.view.id }, search: { at: 1 } });
    },
    onError: (e) => {
      if (e instanceof Refused && e.problem.status !== 0) id.current = v7();
    },
  });
  const part = parts.data?.find((p) => p.name.toLowerCase() === form.part.trim().toLowerCase());
  // The coat as it is planned for this part fills what is not typed yet.
  const known = useQuery({ ...partQuery(part?.id ?? ""), enabled: Boolean(part) }).data;
  if (sheets.isPending) return <Loading what="the sheets" />;
  if (sheets.error) return <Failed error={sheets.error} again={() => void sheets.refetch()} />;
  if (sheets.data.length === 0)
    return <Empty>No sheet is entered yet. A batch begins with its product sheet.</Empty>;
  const refusals = begin.error instanceof Refused ? begin.error.problem.fields : ready ? dry?.refusals : [];
  const set = (name: keyof typeof EMPTY) => (value: string) => {
    begin.reset();
    setForm((f) => ({ ...f, [name]: value }));
  };
  const chosen = sheets.data.find((s) => s.id === form.sheet);
  const planned = known?.coats.find((c) => c.name.toLowerCase() === form.coat.trim().toLowerCase());
  const usePlan = () => {
    if (!planned) return;
    setForm((f) => ({
      ...f,
      sheet: planned.sheet ?? f.sheet,
      method: planned.method ?? f.method,
      film_um: planned.film?.text ?? f.film_um,
      film_is: planned.film_is ?? f.film_is,
    }));
  };
  const differs =
    planned && (planned.sheet || planned.method || planned.film)
      ? (planned.sheet ?? form.sheet) !== form.sheet || (planned.method ?? form.method) !== form.method
      : false;
  const choose = (name: "substrate" | "method", label: string, options: [string, string][]) => (
    <Choice
      name={name}
      label={label}
      value={form[name]}
      set={set(name)}
      error={at(name, refusals)}
      hint=" "
      options={options}
    />
  );
  const quantity = (name: keyof typeof EMPTY, label: string, hint?: string) => (
    <Field
      name={name}
      label={label}
      value={form[name]}
      onChange={set(name)}
      understood={dry?.understood}
      error={at(name, refusals)}
      hint={hint}
    />
  );
  const view = ready ? dry?.view : undefined;
  return (
    <form
      className="station"
      onSubmit={(e) => {
        e.preventDefault();
        begin.mutate();
      }}
    >
      <div className="do">
        <h1>Begin a batch</h1>
        <Choice
          name="sheet"
          label="Sheet"
          value={form.sheet}
          set={set("sheet")}
          hint={chosen ? chosen.ratio : " "}
          options={[["", " "], ...sheets.data.map((s) => [s.id, s.sheet.name] as const)]}
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
            onInputChange={(_, v) => set("part")(v)}
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
            onInputChange={(_, v) => set("coat")(v)}
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
          {choose("substrate", "It goes on", [["", "not said"], ...SUBSTRATES])}
          {choose("method", "Method", [["", "as the sheet is mixed"], ...METHODS])}
          {shapes.length === 0 && quantity("area_m2", "Area")}
          <TextField
            label="Zones"
            name="zones"
            value={form.zones}
            onChange={(e) => set("zones")(e.target.value)}
            error={Boolean(at("zones", refusals))}
            helperText={at("zones", refusals) ?? "optional: tower, hull, skirt"}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          {quantity("film_um", "Film wanted")}
          <Choice
            name="film_is"
            label="This film is"
            value={form.film_is}
            set={set("film_is")}
            hint=" "
            options={[
              ["wet", "wet"],
              ["dry", "dry"],
            ]}
          />
          {quantity("transfer_pct", "Transfer efficiency", "what stays on the part")}
          {quantity(
            "thinner_pct",
            "Thinner",
            chosen?.shown.thinner_max_pct
              ? `${THINNER[chosen.sheet.thinner_basis ?? "of_base"]}, at most ${chosen.shown.thinner_max_pct.text}`
              : "none by sheet",
          )}
        </div>
        <TakeOff forms={shapes} set={setShapes} />
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!ready || begin.isPending} name="begin-batch">
            Begin
          </Button>
          {begin.error && (
            <span className="refusal" role="alert">
              {begin.error.message}
            </span>
          )}
        </div>
      </div>
      <div className="see" aria-live="polite">
        <h2>What it will take</h2>
        {view ? (
          <>
            <div>
              <span className="live mono">{view.need.figure}</span> {view.need.unit} of finished paint
            </div>
            <p className="slate">{view.subtitle}</p>
            <WorkingSheet working={view.mix.need_working} last={4} />
          </>
        ) : (
          <p className="slate">
            {refusals?.[0]?.text ??
              "Choose the sheet, name the part and its coat, give area and film. The need stands here then."}
          </p>
        )}
      </div>
    </form>
  );
}
