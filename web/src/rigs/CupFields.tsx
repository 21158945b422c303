// What is printed on a cup, as it is typed: the same fields where the shop keeps it and where a cup is at hand.
import type { Schemas } from "../api/client";
import { offered, useWords } from "../api/forms";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Words } from "../ui/Words";

export type CupForm = {
  name: string;
  printed: Schemas["Printed"];
  holds_ml: string;
  step_ml: string;
  parts: string;
  last_count: string;
  step_count: string;
};

export const PINT: CupForm = {
  name: "",
  printed: "fl_oz",
  holds_ml: "16 fl oz",
  step_ml: "1 fl oz",
  parts: "",
  last_count: "",
  step_count: "",
};

/** What belongs to another kind of scale is not sent. */
export function cupSent(form: CupForm): Schemas["PrintedCupTyped"] {
  const { name, printed, holds_ml } = form;
  const of = printed === "parts" ? (["parts", "last_count", "step_count"] as const) : (["step_ml"] as const);
  const given = of.filter((f) => form[f].trim() !== "").map((f) => [f, form[f]] as const);
  return { name: name || "cup at hand", printed, holds_ml, ...Object.fromEntries(given) };
}

export function CupFields({
  form,
  put,
  wrong,
}: {
  form: CupForm;
  put: (change: Partial<CupForm>) => void;
  wrong: (field: string) => string | undefined;
}) {
  const words = useWords();
  const figure = (name: keyof CupForm, label: string) => (
    <Field
      name={`cup.${name}`}
      label={label}
      value={form[name]}
      onChange={(v) => put({ [name]: v })}
      error={wrong(name)}
    />
  );
  return (
    <div className="fields">
      <Words
        name="cup-name"
        label="What the shop calls it"
        value={form.name}
        set={(name) => put({ name })}
        most={80}
        wrong={wrong("name")}
      />
      <Choice
        name="cup.printed"
        label="Printed on it"
        value={form.printed}
        set={(printed) => put({ printed })}
        options={offered(words.printed)}
        hint=" "
      />
      {figure("holds_ml", "Holds, to its last line")}
      {form.printed === "parts" ? (
        <>
          <Words
            name="cup.parts"
            label="Parts of its columns"
            value={form.parts}
            set={(parts) => put({ parts })}
            most={40}
            wrong={wrong("parts")}
            hint="base first: 3 : 1 : 0.4"
            mono
          />
          {figure("last_count", "Last number of a column")}
          {figure("step_count", "From line to line")}
        </>
      ) : (
        figure("step_ml", "From line to line")
      )}
    </div>
  );
}
