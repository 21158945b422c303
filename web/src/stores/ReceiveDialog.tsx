// A lot comes in: what its label says, how much, and where it goes.
import { TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { at } from "../api/entry";
import { placesQuery, sheetsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { filledOf } from "../api/compute";
import { useDryKeep, useKeep, type LotPayload } from "./keep";

const BLANK = {
  code: "",
  sheet: "",
  component: "base",
  makers_lot: "",
  colour: "",
  received: "",
  made: "",
  expires: "",
  container_g: "",
  containers_count: "1",
  place: "",
};
type Name = keyof typeof BLANK;

export function ReceiveDialog({ close, opened }: { close: () => void; opened: (id: string) => void }) {
  const [form, setForm] = useState(BLANK);
  const sheets = useQuery(sheetsQuery).data ?? [];
  const places = useQuery(placesQuery).data?.places ?? [];
  const { keep, busy, refused, forget } = useKeep();
  const started = form.code.trim() !== "" && form.sheet !== "";
  // What is empty is not sent; the server names what is missing.
  const given = filledOf(form) as LotPayload<"received">;
  const dry = useDryKeep(undefined, "received", started ? given : null);
  // While it is typed only fields that hold something are judged.
  const refusals =
    refused?.fields ?? dry?.refusals.filter((r) => r.field && form[r.field as Name] !== "") ?? [];
  const set = (name: Name) => (value: string) => {
    forget();
    setForm((f) => ({ ...f, [name]: value }));
  };
  const words = (name: Name, label: string, hint = " ", type = "text") => (
    <TextField
      label={label}
      name={`lot-${name}`}
      type={type}
      value={form[name]}
      onChange={(e) => set(name)(e.target.value)}
      error={Boolean(at(name, refusals))}
      helperText={at(name, refusals) ?? hint}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
    />
  );
  const chosen = sheets.find((s) => s.id === form.sheet);
  const components = (chosen?.components ?? []).map((c): [string, string] => [c.component, c.name]);
  const choose = (name: Name, label: string, options: [string, string][]) => (
    <Choice
      name={`lot-${name}`}
      label={label}
      value={form[name]}
      set={set(name)}
      options={options}
      error={at(name, refusals)}
      hint=" "
    />
  );
  return (
    <FormDialog
      title="A lot comes in"
      action="Receive it"
      name="save-lot"
      busy={busy}
      needs={!started && "the product, and the code on its label"}
      submit={() => void keep("received", given).then((done) => done && opened(done.lot))}
      close={close}
    >
      <div className="fields">
        {choose("sheet", "Product", [["", " "], ...sheets.map((s): [string, string] => [s.id, s.name])])}
        {choose("component", "Component", components)}
        {words("code", "Code on the label")}
        {words("makers_lot", "Maker’s lot")}
        {words("received", "Came in", " ", "date")}
        {words("colour", "Colour")}
        {words("made", "Made", " ", "date")}
        {words(
          "expires",
          "Good until",
          chosen?.shelf_life_days ? `or made + ${chosen.shelf_life_days} d` : " ",
          "date",
        )}
        <Field
          name="container_g"
          label="In one container"
          value={form.container_g}
          onChange={set("container_g")}
          understood={dry?.understood}
          error={at("container_g", refusals)}
        />
        <Field
          name="containers_count"
          label="Containers"
          value={form.containers_count}
          onChange={set("containers_count")}
          error={at("containers_count", refusals)}
        />
        <TextField
          label="Place"
          name="lot-place"
          value={form.place}
          onChange={(e) => set("place")(e.target.value)}
          error={Boolean(at("place", refusals))}
          helperText={at("place", refusals) ?? "where it goes"}
          slotProps={{ inputLabel: { shrink: true }, htmlInput: { list: "places", maxLength: 80 } }}
        />
        <datalist id="places">
          {places.map((p) => (
            <option key={p.id} value={p.name} />
          ))}
        </datalist>
      </div>
      {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
    </FormDialog>
  );
}
