// A rig's figures. What its kind does not have is not asked.
import { TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { CLASSES, KINDS } from "./words";

type Text = Record<string, string>;
const TICKS = [
  ["two_regulators", "a regulator each for fluid and air"],
  ["shut_off", "shut-off in the air line"],
  ["vent_valve", "valve to vent by"],
  ["agitator", "agitator"],
  ["fixed_air", "its air cannot be set"],
  ["internal_mix", "mixes inside its cap"],
] as const;

export function RigDialog({ rig, close }: { rig: Schemas["RigView"] | null; close: (id?: string) => void }) {
  const client = useQueryClient();
  const id = useRef(rig?.id ?? v7());
  const [form, setForm] = useState<Text>(() => ({
    name: rig?.rig.name ?? "",
    kind: rig?.rig.kind ?? "pot",
    gun: rig?.rig.gun ?? "",
    class: rig?.rig.class ?? "conventional",
    hose_since: rig?.rig.hose_since ?? "",
    tip_code: rig?.rig.tip_code ?? "",
    ...rig?.texts,
  }));
  const [ticks, setTicks] = useState<Record<string, boolean>>(() =>
    Object.fromEntries(TICKS.map(([k]) => [k, rig?.rig[k] ?? false])),
  );
  const [retired, setRetired] = useState(rig?.retired ?? false);
  const set = (name: string) => (v: string) => setForm((f) => ({ ...f, [name]: v }));
  const save = useMutation({
    mutationFn: () => {
      const body = { id: id.current, rig: { ...form, ...ticks }, retired } as never;
      return rig
        ? ask(api.PUT("/api/v1/rigs/{id}", { params: { path: { id: rig.id } }, body }))
        : ask(api.POST("/api/v1/rigs", { body }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["rigs"] });
      close(id.current);
    },
  });
  const code = useDebounced(form.tip_code?.trim() ?? "");
  const tip = useQuery({
    queryKey: ["tip", code],
    queryFn: () => ask(api.GET("/api/v1/compute/tips/{code}", { params: { path: { code } } })),
    enabled: code !== "",
    retry: false,
    gcTime: 0,
  }).data;
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  const field = (name: string, label: string, hint?: string) => (
    <Field
      name={name}
      label={label}
      value={form[name] ?? ""}
      onChange={set(name)}
      {...(hint ? { hint } : {})}
      {...(at(name, refusals) ? { error: at(name, refusals) ?? "" } : {})}
    />
  );
  const words = (name: string, label: string, hint = " ") => (
    <TextField
      name={name}
      label={label}
      value={form[name] ?? ""}
      onChange={(e) => set(name)(e.target.value)}
      error={Boolean(at(name, refusals))}
      helperText={at(name, refusals) ?? hint}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
    />
  );
  const vessel = form.kind === "pot" || form.kind === "twin_pots";
  const tipped = form.kind === "airless" || form.kind === "gel_coat_machine";
  const named = save.error && refusals?.some((r) => r.field) ? null : save.error?.message;
  return (
    <FormDialog
      title={rig ? rig.rig.name : "A new rig"}
      action="Keep it"
      name="save-rig"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={() => close()}
    >
      <div className="fields">
        {words("name", "Name")}
        <Choice
          name="kind"
          label="Driven by"
          value={form.kind ?? "pot"}
          set={set("kind")}
          options={KINDS}
          hint=" "
        />
        {vessel && field("rating_kpa", "Vessel rated for", "on its plate")}
        {vessel && field("relief_kpa", "Relief opens at", "its own valve")}
        {vessel && field("fill_ml", "Filled to")}
        {!vessel && form.kind !== "gun_cup" && field("pump_most_kpa", "Pump gives at most")}
        {form.kind !== "gun_cup" && field("hose_bore_mm", "Hose bore")}
        {form.kind !== "gun_cup" && field("hose_length_mm", "Hose length")}
        {form.kind !== "gun_cup" && words("hose_since", "Hose since", "as 2026-03-01")}
        {form.kind !== "gun_cup" && field("lift_mm", "Gun above the pot")}
        {words("gun", "Gun")}
        <Choice
          name="class"
          label="Of the class"
          value={form.class ?? ""}
          set={set("class")}
          options={CLASSES}
          hint=" "
        />
        {!tipped && field("nozzle_mm", "Nozzle fitted")}
        {!tipped && field("spare_mm", "Nozzles at hand", "apart by a semicolon")}
        {tipped &&
          words(
            "tip_code",
            "Tip fitted",
            tip
              ? `${tip.angle.text}, fan ${tip.nominal_fan.text} (${tip.geometric_fan.text} by geometry), hole ${tip.hole.text}`
              : "as 517",
          )}
        {field("printed_air_kpa", "Air printed on it", "at most")}
        {field("air_nl_min", "Air it takes")}
        {field("air_bore_mm", "Air hose bore")}
        {field("air_length_mm", "Air hose length")}
        {field("supply_kpa", "Supply stands at")}
        {field("compressor_nl_min", "Compressor gives")}
      </div>
      <div className="wrap">
        {TICKS.map(([key, word]) => (
          <Check
            key={key}
            name={key}
            word={word}
            on={ticks[key] ?? false}
            set={(on) => setTicks((t) => ({ ...t, [key]: on }))}
          />
        ))}
        {rig && <Check name="retired" word="not used any more" on={retired} set={setRetired} />}
      </div>
      {at("shut_off", refusals) && <p className="refusal">{at("shut_off", refusals)}</p>}
      {named && <p className="refusal">{named}</p>}
    </FormDialog>
  );
}
