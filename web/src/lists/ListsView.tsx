// The Ready lists as data: a lead edits words, figures and when an item applies. Batches begun keep theirs.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { called, useWords, type Words as WordsOf } from "../api/forms";
import { listsQuery, meQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Failed, Loading } from "../ui/states";
import { type Item, ItemDialog } from "./ItemDialog";

export function ListsView() {
  const words = useWords();
  const lists = useQuery(listsQuery);
  const me = useQuery(meQuery).data;
  const [editing, setEditing] = useState<number | null>(null);
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: (items: Schemas["ChecklistItemTyped"][]) =>
      ask(
        api.PUT("/api/v1/lists", {
          body: { seen_edition: lists.data?.edition ?? 0, lists: { items } },
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
          <Button
            variant="contained"
            name="add-item"
            aria-haspopup="dialog"
            onClick={() => setEditing(items.length)}
          >
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
        {words.group.map(({ value: group, word: name }) => (
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
                        <td className="small">{what(item, lists.data.shown, i, words)}</td>
                        <td className="small">{when(item, words)}</td>
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
                                aria-haspopup="dialog"
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
                .map((x, j): Schemas["ChecklistItemTyped"] => (j === editing ? item : x))
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

function what(item: Item, shown: Record<string, Schemas["Shown"]>, i: number, words: WordsOf) {
  const figure = (name: string) => shown[`items[${i}].what.${name}`]?.text;
  const w = item.what;
  if (w.kind === "timer")
    return w.by
      ? "timed, as long as the sheet says"
      : `timed, ${figure("least_s") ?? "–"} to ${figure("most_s") ?? "–"}`;
  if (w.kind === "good_for")
    return w.by ? "good as long as the sheet says" : `good for ${figure("window_s") ?? "–"}`;
  if (w.kind === "lot") return `a lot of ${w.component}`;
  return called(words.what_kind, w.kind);
}

function when(item: Item, words: WordsOf) {
  const w = item.when;
  const parts = [
    ...(w?.substrates ?? []).map((s) => called(words.substrate, s)),
    ...(w?.methods ?? []).map((m) => called(words.method, m)),
    ...(w?.hazards ?? []).map((h) => called(words.hazard, h)),
  ];
  const where = (w?.has ?? []).map((h) => called(words.has, h)).join(", and ");
  return [parts.join(", "), where && `where ${where}`].filter(Boolean).join("; ") || "always";
}
