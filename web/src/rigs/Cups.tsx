// The printed cups of the shop: what stands on them is what a pour can be read to.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { at } from "../api/entry";
import { called, useWords } from "../api/forms";
import { instrumentsQuery } from "../api/queries";
import { CupFields, cupSent, PINT, type CupForm } from "./CupFields";

const empty = (): CupForm & { id: string } => ({ ...PINT, id: v7() });

export function Cups({ mayEdit }: { mayEdit: boolean }) {
  const client = useQueryClient();
  const words = useWords();
  const cups = useQuery(instrumentsQuery).data?.filter((i) => i.kind === "cup") ?? [];
  const [form, setForm] = useState(empty);
  const keep = useMutation({
    mutationFn: () => {
      const { id, ...cup } = form;
      return ask(
        api.PUT("/api/v1/instruments/cups", { body: { id, cup: { ...cupSent(cup), name: cup.name } } }),
      );
    },
    onSuccess: async () => {
      setForm(empty());
      await client.invalidateQueries({ queryKey: ["instruments"] });
    },
  });
  const refusals = keep.error instanceof Refused ? keep.error.problem.fields : [];
  const known = cups.some((c) => c.id === form.id);
  return (
    <div className="tips-two">
      <section aria-label="Printed cups">
        {cups.length === 0 && (
          <p className="slate">
            No printed cup is kept yet. With one, Mix says the line each pour is filled to, and what that
            proves.
          </p>
        )}
        <table className="rows">
          <tbody>
            {cups.map((c) => (
              <tr key={c.id}>
                <td>
                  {mayEdit && c.cup ? (
                    <button
                      type="button"
                      className="link"
                      name={`cup-${c.name}`}
                      onClick={() => c.cup && setForm({ ...asForm(c.cup, c.texts), id: c.id })}
                    >
                      {c.name}
                    </button>
                  ) : (
                    <b>{c.name}</b>
                  )}
                </td>
                <td className="slate">
                  {called(words.printed, c.cup?.printed)} {c.cup?.parts}, {c.holds}, read to ± {c.shown.text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {mayEdit && (
        <section aria-label="A cup">
          <span className="label">{known ? "Change this cup" : "Another printed cup"}</span>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              keep.mutate();
            }}
          >
            <CupFields
              form={form}
              put={(change) => {
                keep.reset();
                setForm((f) => ({ ...f, ...change }));
              }}
              wrong={(field) => at(field, refusals)}
            />
            <div className="actions">
              <Button type="submit" variant="outlined" name="keep-cup" disabled={keep.isPending}>
                Keep it
              </Button>
              {known && (
                <Button variant="text" onClick={() => setForm(empty())} sx={{ color: "text.primary" }}>
                  Another instead
                </Button>
              )}
            </div>
            {keep.error && refusals?.length === 0 && <p className="refusal">{keep.error.message}</p>}
          </form>
        </section>
      )}
    </div>
  );
}

/** A kept cup as the texts one would type. */
function asForm(
  cup: { name: string; printed: CupForm["printed"]; parts?: string | null },
  texts: Record<string, string>,
): CupForm {
  const text = (field: string) => texts[field] ?? "";
  return {
    name: cup.name,
    printed: cup.printed,
    parts: cup.parts ?? "",
    holds_ml: text("holds_ml"),
    step_ml: text("step_ml"),
    last_count: text("last_count"),
    step_count: text("step_count"),
  };
}
