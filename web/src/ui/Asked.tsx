// A quantity of a form: its text, what was understood of it, and its refusal at itself.
import type { Refusal, Schemas } from "../api/client";
import { at } from "../api/entry";
import { Field } from "./Field";

export function Asked<F extends Record<string, string>>(props: {
  form: F;
  set: (change: (form: F) => F) => void;
  name: keyof F & string;
  label: string;
  hint?: string | undefined;
  understood?: Record<string, Schemas["Shown"]> | undefined;
  refusals?: Refusal[] | null | undefined;
  autoFocus?: boolean;
}) {
  const { form, set, name, label, hint, understood, refusals, autoFocus } = props;
  const wrong = at(name, refusals);
  return (
    <Field
      name={name}
      label={label}
      value={form[name] ?? ""}
      onChange={(text) => set((f) => ({ ...f, [name]: text }))}
      autoFocus={autoFocus ?? false}
      {...(understood ? { understood } : {})}
      {...(wrong ? { error: wrong } : {})}
      {...(hint ? { hint } : {})}
    />
  );
}
