// The form of an entry: its texts, what they would do, its refusals at their fields, and the one press that writes it.
import { useState, type FormEvent } from "react";
import type { BatchView, Shown } from "./client";
import { at, useDry, useWrite } from "./entry";
import type { Kind, PayloadOf } from "./outbox";
import { emptying } from "./turns";

type How<K extends Kind, F> = {
  /** What it would say; null: not enough is typed to ask what it would do. */
  says: (form: F) => PayloadOf<K> | null;
  /** Enough is typed to write it; missing: whenever it says something. */
  full?: (form: F) => boolean;
  /** What it begins with beside what is empty. */
  begin?: Partial<F>;
  /** What stays once it is taken. */
  keep?: (form: F) => Partial<F>;
  /** Written first, with the same press; where it is refused nothing more is. */
  before?: (() => Promise<boolean>) | undefined;
  /** Once it is stored, with the batch as it is then. */
  then?: (view: BatchView) => void;
  /** Ask while typing; missing: always. A form whose answer shows nothing does without. */
  asks?: (form: F) => boolean;
};

export function useEntryForm<K extends Kind, F extends object>(
  book: string,
  kind: K,
  empty: F,
  how: How<K, F>,
) {
  const [form, setForm] = useState<F>(() => ({ ...empty, ...how.begin }));
  const { write, busy, refused, forget } = useWrite(book);
  const payload = how.says(form);
  const dry = useDry(book, kind, (how.asks?.(form) ?? true) ? payload : null);
  const refusals = refused?.fields ?? dry?.refusals;
  const ready = payload !== null && (how.full?.(form) ?? true);
  const send = async (said: PayloadOf<K>) => {
    if (how.before && !(await how.before())) return null;
    const written = await write(kind, said);
    if (written?.view) how.then?.(written.view);
    return written;
  };
  const take = () =>
    ready && payload !== null
      ? emptying(form, { ...empty, ...how.keep?.(form) }, setForm, send(payload))
      : Promise.resolve(null);
  return {
    form,
    put: (change: Partial<F>) => setForm((f) => ({ ...f, ...change })),
    ready,
    busy,
    dry,
    /** The batch as it would be. */
    view: dry?.view ?? undefined,
    understood: dry?.understood,
    /** What is wrong with a field, by its path on the wire. */
    error: (path: string) => at(path, refusals),
    /** What is wrong and stands at no field. */
    stray: refused && !refused.field ? refused.detail : null,
    forget,
    /** Writes it and empties the form; where it was refused or lost, what was typed comes back. */
    take,
    submit: (e: FormEvent) => {
      e.preventDefault();
      void take();
    },
  };
}

/** A form as its fields see it. */
export type EntryForm<F> = {
  form: F;
  put: (change: Partial<F>) => void;
  understood: Record<string, Shown> | undefined;
  error: (path: string) => string | undefined;
};
