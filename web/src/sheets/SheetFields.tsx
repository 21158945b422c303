// The fields of a sheet as they are typed: those its kind asks first, the rest folded in groups that say how many are filled.
import { TextField } from "@mui/material";
import { at } from "../api/entry";
import { offered, useForms, useWords } from "../api/forms";
import type { Refusal, Shown } from "../api/client";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { GROUPS, type FieldOf, type Group } from "./fields";
import { applies, rowsOf, slot, type Form } from "./form";

export type Fields = {
  form: Form;
  /** Nobody but those who keep the sheets may change one. */
  fixed: boolean;
  set: (name: string, value: string | boolean | string[]) => void;
  shown: Record<string, Shown> | undefined;
  refusals: Refusal[];
};

const filled = (form: Form, name: string) =>
  form[name] !== undefined && form[name] !== "" && form[name] !== false;

export function OneField({ of, name, fields }: { of: FieldOf; name: string; fields: Fields }) {
  const known = useWords();
  const { form, fixed, set, shown, refusals } = fields;
  const text = typeof form[name] === "string" ? form[name] : "";
  const wrong = at(name, refusals);
  switch (of.as) {
    case "figure":
      return (
        <Field
          name={name}
          label={of.label}
          value={text}
          onChange={(v) => set(name, v)}
          understood={shown}
          error={wrong}
          hint={of.hint}
          disabled={fixed}
        />
      );
    case "choice":
      return (
        <Choice
          name={name}
          label={of.label}
          value={text}
          set={(v) => set(name, v)}
          error={wrong}
          hint=" "
          disabled={fixed}
          options={[["", " "], ...(offered(known[of.of]) as [string, string][])]}
        />
      );
    case "words":
      return (
        <TextField
          label={of.label}
          name={name}
          value={text}
          onChange={(e) => set(name, e.target.value)}
          error={Boolean(wrong)}
          helperText={wrong ?? of.hint}
          disabled={fixed}
          slotProps={{ htmlInput: { maxLength: of.most }, inputLabel: { shrink: true } }}
        />
      );
    case "tick":
      return (
        <label className="tick">
          <input
            type="checkbox"
            name={name}
            checked={form[name] === true}
            disabled={fixed}
            onChange={(e) => set(name, e.target.checked)}
          />
          {of.label}
        </label>
      );
  }
}

/** All else that a sheet says. */
export function Groups({ asked, fields }: { asked: Set<string>; fields: Fields }) {
  return (
    <>
      {GROUPS.map((g) => (
        <Folded key={g.name} group={g} asked={asked} fields={fields} />
      ))}
    </>
  );
}

function Folded({ group, asked, fields }: { group: Group; asked: Set<string>; fields: Fields }) {
  const most = useForms().most;
  const { form } = fields;
  const rest = group.fields.filter((f) => !asked.has(f.name)).filter((f) => applies(form, f.name));
  const { rows } = group;
  if (rest.length === 0 && !rows) return null;
  const slots = rows ? rowsOf(form, rows.list, most) : [];
  const inRows = slots.filter((i) => rows?.row.some((f) => filled(form, slot(rows.list, i, f.name)))).length;
  const count = rest.filter((f) => filled(form, f.name)).length;
  const wrong = fields.refusals.some(
    (r) => rest.some((f) => f.name === r.field) || (rows && r.field?.startsWith(rows.list)),
  );
  return (
    <details className="group" open={wrong || undefined}>
      <summary>
        <b>{group.name}</b>
        <span className="slate small">
          {rest.length > 0 && `${count} of ${rest.length} filled`}
          {rows && `${rest.length > 0 ? ", " : ""}${inRows} ${inRows === 1 ? "row" : "rows"}`}
        </span>
      </summary>
      <div className="asked">
        {rest.map((f) => (
          <OneField key={f.name} of={f} name={f.name} fields={fields} />
        ))}
      </div>
      {rows &&
        slots.map((i) => (
          <div className="asked" key={i}>
            {rows.row
              .filter((f) => applies(form, f.name))
              .map((f) => (
                <OneField key={f.name} of={f} name={slot(rows.list, i, f.name)} fields={fields} />
              ))}
          </div>
        ))}
    </details>
  );
}

/** How many fields beside those asked first hold something. */
export const filledBeside = (form: Form, asked: Set<string>) =>
  Object.keys(form).filter((name) => {
    const own =
      GROUPS.some((g) => g.fields.some((f) => f.name === name && f.as !== "tick")) || name.includes("[");
    return own && !asked.has(name) && applies(form, name) && filled(form, name);
  }).length;

type Several = {
  fields: Fields;
  name: string;
  of: "hazard" | "accept_by" | "look_stage";
  label: string;
  none: string;
};

/** Several of a list of words, each ticked. */
function Several({ fields, name, of, label, none }: Several) {
  const known = useWords();
  const { form, fixed, set } = fields;
  const said = form[name];
  const ticked = Array.isArray(said) ? said : [];
  return (
    <fieldset className="hazards">
      <legend className="label">
        {label}
        {ticked.length === 0 ? none : ""}
      </legend>
      {known[of].map(({ value, word }) => (
        <label key={value} className="tick">
          <input
            type="checkbox"
            name={`${of}-${value}`}
            checked={ticked.includes(value)}
            disabled={fixed}
            onChange={(e) =>
              set(name, e.target.checked ? [...ticked, value] : ticked.filter((t) => t !== value))
            }
          />
          {word}
        </label>
      ))}
    </fieldset>
  );
}

/** What the data sheet warns of, and what accepts the coat. */
export function Hazards({ fields }: { fields: Fields }) {
  return (
    <>
      <Several
        fields={fields}
        name="hazards"
        of="hazard"
        label="What it warns of"
        none=": nothing ticked, so nothing is guarded"
      />
      <Several
        fields={fields}
        name="accepted_by"
        of="accept_by"
        label="Accepted by, once the work is signed"
        none=": what proves its film"
      />
      <Several
        fields={fields}
        name="look_stages"
        of="look_stage"
        label="Looked at"
        none=": once, when it is on"
      />
    </>
  );
}
