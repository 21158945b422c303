// A field of an entry's form: its text, what was understood of it, and its refusal at itself.
import type { EntryForm } from "../api/useEntryForm";
import { Choice, type Options } from "./Choice";
import { Field } from "./Field";

type Named<F> = {
  of: EntryForm<F>;
  name: keyof F & string;
  label: string;
  hint?: string | undefined;
  /** Its path on the wire, where that is not its name in the form. */
  path?: string;
};

export function EntryField<F>({ of, name, path = name, ...rest }: Named<F> & { autoFocus?: boolean }) {
  return (
    <Field
      name={path}
      value={String(of.form[name] ?? "")}
      onChange={(text) => of.put({ [name]: text } as Partial<F>)}
      understood={of.understood}
      error={of.error(path)}
      {...rest}
    />
  );
}

export function EntryChoice<F>({ of, name, path = name, ...rest }: Named<F> & { options: Options<string> }) {
  return (
    <Choice
      name={path}
      value={String(of.form[name] ?? "")}
      set={(value) => of.put({ [name]: value } as Partial<F>)}
      error={of.error(path)}
      {...rest}
      hint={rest.hint ?? " "}
    />
  );
}
