// The Ready lists as data: a lead edits words, figures and when an item applies. Batches begun keep theirs.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { listsQuery, meQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Failed, Loading } from "../ui/states";

type Item = Schemas["ListItem"];
const GROUPS: [Item["group"], string][] = [
  ["material", "Material"],
  ["mock_up", "Mock-up"],
  ["rig", "Rig and air"],
  ["surface", "Surface"],
  ["masking", "Masking"],
];
const KINDS: [string, string][] = [
  ["tick", "done"],
  ["test", "good, or failed"],
  ["profile", "a profile read"],
  ["timer", "timed"],
  ["good_for", "good for so long"],
  ["approve", "approved by a lead"],
];
const SUBSTRATES: [Schemas["Substrate"], string][] = [
  ["blasted_steel", "blasted steel"],
  ["sanded_aluminium", "sanded aluminium"],
  ["gel_coat_mould", "gel-coat mould"],
  ["fibreglass", "fibreglass"],
  ["wood", "wood"],
  ["foam", "foam"],
  ["already_coated", "already coated"],
];
const word = (text: string) => text.replaceAll("_", " ");

export function ListsView() {
  const lists = useQuery(listsQuery);
  const me = useQuery(meQuery).data;
  const [editing, setEditing] = useState<number | null>(null);
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: (items: unknown[]) =>
      ask(
        api.PUT("/api/v1/lists", {
          body: { seen_edition: lists.data?.edition ?? 0, lists: { items } } as never,
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["lists"] });
      setEditing(null);
    },
  });
  if (lists.isPending) return <Loading what="the lists" />;
  if (lists.error && !lists.data) return <Failed error={lists.error} again={() => void lists.refetch()} />;
  const { items } = lists.data.lists;
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>Ready lists</h1>
        <span className="slate">
          {lists.data.edition === 0
            ? "as a shop begins with"
            : `version ${lists.data.edition}, ${lists.data.written_by ?? ""} ${shopTime(lists.data.written ?? "", me?.zone ?? "UTC", me?.now)}`}
          ; batches begun keep theirs
        </span>
        <ExportLink href="/api/v1/lists" word="Take as JSON" />
        {lists.data.may_edit && (
          <Button variant="contained" name="add-item" onClick={() => setEditing(items.length)}>
            Add an item
          </Button>
        )}
      </div>
      {save.error && editing === null && (
        <p className="refusal" role="alert">
          {save.error.message}
        </p>
      )}
      <div className="list" tabIndex={0}>
        {GROUPS.map(([group, name]) => (
          <section key={group}>
            <h2>{name}</h2>
            <table className="rows">
              <tbody>
                {items.map(
                  (item, i) =>
                    item.group === group && (
                      <tr key={item.key}>
                        <td>
                          <b>{item.text}</b>
                          <div className="small slate">{item.hint}</div>
                        </td>
                        <td className="small">{what(item, lists.data.shown, i)}</td>
                        <td className="small">{when(item)}</td>
                        <td className="small nowrap">
                          before {item.before === "combine" ? "mixing" : "spraying"}
                        </td>
                        <td className="nowrap">
                          {lists.data.may_edit && (
                            <>
                              <button
                                type="button"
                                className="link"
                                name={`edit-${item.key}`}
                                onClick={() => setEditing(i)}
                              >
                                Edit
                              </button>{" "}
                              <button
                                type="button"
                                className="link"
                                name={`drop-${item.key}`}
                                onClick={() => save.mutate(items.filter((_, j) => j !== i))}
                              >
                                Take out
                              </button>
                            </>
                          )}
                        </td>
                      </tr>
                    ),
                )}
              </tbody>
            </table>
          </section>
        ))}
      </div>
      {editing !== null && (
        <ItemDialog
          item={items[editing]}
          shown={lists.data.shown}
          index={editing}
          busy={save.isPending}
          error={save.error}
          save={(item) =>
            save.mutate(
              items
                .map((x, j): unknown => (j === editing ? item : x))
                .concat(editing === items.length ? [item] : []),
            )
          }
          close={() => {
            save.reset();
            setEditing(null);
          }}
        />
      )}
    </>
  );
}

function what(item: Item, shown: Record<string, Schemas["Shown"]>, i: number) {
  const figure = (name: string) => shown[`items[${i}].what.${name}`]?.text;
  const w = item.what;
  if (w.kind === "timer")
    return w.by
      ? `timed, ${word(w.by)} by the sheet`
      : `timed, ${figure("least_s") ?? "–"} to ${figure("most_s") ?? "–"}`;
  if (w.kind === "good_for")
    return w.by ? "good as long as the sheet says" : `good for ${figure("window_s") ?? "–"}`;
  if (w.kind === "lot") return `a lot of ${w.component}`;
  return KINDS.find(([k]) => k === w.kind)?.[1] ?? w.kind;
}

function when(item: Item) {
  const w = item.when;
  const parts = [...(w?.substrates ?? []), ...(w?.methods ?? []), ...(w?.hazards ?? [])].map(word);
  const has = (w?.has ?? []).map((h) => `has ${word(h)}`);
  return [...parts, ...has].join(", ") || "always";
}

type ItemDialogProps = {
  item: Item | undefined;
  shown: Record<string, Schemas["Shown"]>;
  index: number;
  busy: boolean;
  error: Error | null;
  save: (item: Record<string, unknown>) => void;
  close: () => void;
};

function ItemDialog({ item, shown, index, busy, error, save, close }: ItemDialogProps) {
  const figure = (name: string) => shown[`items[${index}].what.${name}`]?.text ?? "";
  const w = item?.what;
  const [form, setForm] = useState({
    text: item?.text ?? "",
    hint: item?.hint ?? "",
    group: item?.group ?? "surface",
    before: item?.before ?? "spray",
    kind: w?.kind ?? "tick",
    words: w?.kind === "test" ? w.fails : w?.kind === "timer" || w?.kind === "good_for" ? (w.over ?? "") : "",
    least_s: figure("least_s"),
    most_s: figure("most_s"),
    window_s: figure("window_s"),
    substrates: item?.when?.substrates ?? [],
  });
  const refusals = error instanceof Refused ? error.problem.fields : [];
  const of = (field: string) => at(`items[${index}].${field}`, refusals);
  const set = (change: Partial<typeof form>) => setForm((f) => ({ ...f, ...change }));
  // A lot, and what the sheet times, stay what they are: only their words are edited.
  const fixed = w?.kind === "lot" || (w && "by" in w && Boolean(w.by));
  const done = () => {
    const kinds: Record<string, Record<string, unknown>> = {
      tick: {},
      test: { fails: form.words },
      profile: {},
      approve: {},
      timer: { least_s: form.least_s, most_s: form.most_s, over: form.words },
      good_for: {
        window_s: form.window_s,
        over: form.words,
        until_coated: w?.kind === "good_for" ? w.until_coated : false,
      },
    };
    save({
      key:
        item?.key ??
        `own_${form.text
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, "_")
          .slice(0, 30)}`,
      group: form.group,
      text: form.text,
      hint: form.hint,
      before: form.before,
      what: fixed ? w : { kind: form.kind, ...kinds[form.kind] },
      when: { ...item?.when, substrates: form.substrates },
      after: item?.after ?? null,
    });
  };
  const select = (name: "group" | "before" | "kind", label: string, options: [string, string][]) => (
    <TextField
      select
      label={label}
      value={form[name]}
      disabled={name === "kind" && Boolean(fixed)}
      onChange={(e) => set({ [name]: e.target.value })}
      slotProps={{ inputLabel: { shrink: true }, select: { native: true } }}
    >
      {(fixed && name === "kind" ? [[form.kind, "as it is"] as [string, string]] : options).map(([v, t]) => (
        <option key={v} value={v}>
          {t}
        </option>
      ))}
    </TextField>
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
      <TextField
        label="What to do"
        name="item-text"
        value={form.text}
        onChange={(e) => set({ text: e.target.value })}
        error={Boolean(of("text") ?? of("key"))}
        helperText={of("text") ?? of("key") ?? " "}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
      />
      <TextField
        label="How"
        value={form.hint}
        multiline
        onChange={(e) => set({ hint: e.target.value })}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 240 } }}
      />
      <div className="fields">
        {select("group", "Under", GROUPS)}
        {select("before", "Before", [
          ["combine", "mixing"],
          ["spray", "spraying"],
        ])}
        {select("kind", "It is", KINDS)}
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
      <div role="group" aria-label="On" className="wrap">
        <span className="label">On (none ticked: any)</span>
        {SUBSTRATES.map(([value, name]) => (
          <label key={value} className="tick">
            <input
              type="checkbox"
              checked={form.substrates.includes(value)}
              onChange={(e) =>
                set({
                  substrates: e.target.checked
                    ? [...form.substrates, value]
                    : form.substrates.filter((s) => s !== value),
                })
              }
            />
            {name}
          </label>
        ))}
      </div>
      {error && <p className="refusal">{error.message}</p>}
    </FormDialog>
  );
}
