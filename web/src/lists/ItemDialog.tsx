// One item of the lists: its words, its figures, and when it applies.
import { TextField } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { offered, useWords } from "../api/forms";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Ticks } from "../ui/Ticks";
import { Words } from "../ui/Words";

export type Item = Schemas["ChecklistItem"];
type What = Item["what"];
/** What an item typed here may ask for: a lot is asked for by the components of the sheet. */
type Typed = Exclude<What["kind"], "lot">;
/** What is done for an item, as the form says it. */
function typed(
  form: { kind: Typed; words: string; least_s: string; most_s: string; window_s: string },
  was: What | undefined,
): Schemas["WhatTyped"] {
  const { kind, words, least_s, most_s, window_s } = form;
  switch (kind) {
    case "test":
      return { kind, fails: words };
    case "timer":
      return { kind, least_s, most_s, over: words };
    case "good_for":
      return { kind, window_s, over: words, until_coated: was?.kind === "good_for" && was.until_coated };
    case "tick":
    case "profile":
    case "approve":
      return { kind };
  }
}

type ItemDialogProps = {
  item: Item | undefined;
  shown: Record<string, Schemas["Shown"]>;
  index: number;
  busy: boolean;
  error: Error | null;
  save: (item: Schemas["ChecklistItemTyped"]) => void;
  close: () => void;
};

export function ItemDialog({ item, shown, index, busy, error, save, close }: ItemDialogProps) {
  const words = useWords();
  const figure = (name: string) => shown[`items[${index}].what.${name}`]?.text ?? "";
  const w = item?.what;
  const [form, setForm] = useState({
    text: item?.text ?? "",
    hint: item?.hint ?? "",
    group: item?.group ?? "surface",
    before: item?.before ?? "spray",
    kind: (w && w.kind !== "lot" ? w.kind : "tick") as Typed,
    words: w?.kind === "test" ? w.fails : w?.kind === "timer" || w?.kind === "good_for" ? (w.over ?? "") : "",
    least_s: figure("least_s"),
    most_s: figure("most_s"),
    window_s: figure("window_s"),
    substrates: item?.when?.substrates ?? [],
    methods: item?.when?.methods ?? [],
    hazards: item?.when?.hazards ?? [],
    has: item?.when?.has ?? [],
    crew_only: item?.crew_only ?? false,
  });
  const refusals = error instanceof Refused ? error.problem.fields : [];
  const of = (field: string) => at(`items[${index}].${field}`, refusals);
  const set = (change: Partial<typeof form>) => setForm((f) => ({ ...f, ...change }));
  // A lot, and what the sheet times, stay what they are: only their words are edited.
  const fixed = w?.kind === "lot" || (w && "by" in w && Boolean(w.by));
  const done = () => {
    save({
      key: item?.key ?? "",
      group: form.group,
      text: form.text,
      hint: form.hint,
      before: form.before,
      what: fixed && w ? w : typed(form, w),
      when: {
        substrates: form.substrates,
        methods: form.methods,
        hazards: form.hazards,
        has: form.has,
      },
      after: item?.after ?? null,
      says: item?.says ?? null,
      crew_only: form.crew_only,
    });
  };
  const select = (name: "group" | "before" | "kind", label: string, options: [string, string][]) => (
    <Choice
      name={`item-${name}`}
      label={label}
      value={form[name]}
      disabled={name === "kind" && Boolean(fixed)}
      set={(v) => set({ [name]: v })}
      options={fixed && name === "kind" ? [[form.kind, "as it is"]] : options}
    />
  );
  return (
    <FormDialog
      title={item ? "An item" : "A new item"}
      action="Save as a new version"
      name="save-item"
      busy={busy}
      submit={done}
      close={close}
    >
      <Words
        name="item-text"
        label="What to do"
        value={form.text}
        set={(text) => set({ text: text })}
        most={80}
        wrong={of("text") ?? of("key")}
      />
      <TextField
        label="How"
        value={form.hint}
        multiline
        onChange={(e) => set({ hint: e.target.value })}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 240 } }}
      />
      <div className="fields">
        {select("group", "Under", offered(words.group))}
        {select("before", "Before", [
          ["combine", "mixing"],
          ["spray", "spraying"],
        ])}
        {select(
          "kind",
          "It is",
          offered(words.what_kind).filter(([kind]) => kind !== "lot"),
        )}
        {["test", "timer", "good_for"].includes(form.kind) && !fixed && (
          <TextField
            label={form.kind === "test" ? "A failure looks like" : "When it is over"}
            value={form.words}
            onChange={(e) => set({ words: e.target.value })}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 60 } }}
          />
        )}
        {form.kind === "timer" && !fixed && (
          <>
            <Field
              name="least_s"
              label="At least"
              value={form.least_s}
              onChange={(v) => set({ least_s: v })}
              error={of("what.least_s")}
            />
            <Field
              name="most_s"
              label="At most"
              value={form.most_s}
              onChange={(v) => set({ most_s: v })}
              error={of("what.most_s")}
            />
          </>
        )}
        {form.kind === "good_for" && !fixed && (
          <Field
            name="window_s"
            label="Good for"
            value={form.window_s}
            onChange={(v) => set({ window_s: v })}
            error={of("what.window_s")}
          />
        )}
      </div>
      <Ticks
        label="On (none: any)"
        name="on"
        of={offered(words.substrate)}
        ticked={form.substrates}
        set={(v) => set({ substrates: v })}
      />
      <Ticks
        label="By (none: any)"
        name="by"
        of={offered(words.method)}
        ticked={form.methods}
        set={(v) => set({ methods: v })}
      />
      <Ticks
        label="Where there is (none: any)"
        name="hazard"
        of={offered(words.hazard)}
        ticked={form.hazards}
        set={(v) => set({ hazards: v })}
      />
      <Ticks
        label="Only where all of these hold"
        name="has"
        of={offered(words.has)}
        ticked={form.has}
        set={(v) => set({ has: v })}
      />
      <Check
        name="crew-only"
        word="Left out where one person works alone"
        on={form.crew_only}
        set={(crew_only) => set({ crew_only })}
      />
      {error && <p className="refusal">{error.message}</p>}
    </FormDialog>
  );
}
