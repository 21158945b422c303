// The scales of the shop: what one shows decides what it can prove.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { at } from "../api/entry";
import { instrumentsQuery, scalesQuery } from "../api/queries";
import { Field } from "../ui/Field";
import { Words } from "../ui/Words";

const empty = () => ({ id: v7(), name: "", resolution_g: "" });

export function Scales({ mayEdit }: { mayEdit: boolean }) {
  const client = useQueryClient();
  const scales = useQuery(instrumentsQuery).data?.filter((i) => i.kind === "scale");
  const speak = useQuery(scalesQuery).data ?? [];
  const [form, setForm] = useState(empty);
  const keep = useMutation({
    mutationFn: () => {
      const { id, ...scale } = form;
      return ask(api.PUT("/api/v1/instruments/scales", { body: { id, scale } }));
    },
    onSuccess: async () => {
      setForm(empty());
      await client.invalidateQueries({ queryKey: ["instruments"] });
    },
  });
  const refusals = keep.error instanceof Refused ? keep.error.problem.fields : [];
  const known = scales?.some((s) => s.id === form.id) ?? false;
  return (
    <div className="tips-two">
      <section aria-label="Scales">
        <table className="rows">
          <thead>
            <tr>
              <th>Scale</th>
              <th className="num">Shows</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {scales?.map((s) => {
              const says = speak.find((x) => x.instrument === s.id);
              return (
                <tr key={s.id}>
                  <td>
                    {mayEdit && !says ? (
                      <button
                        type="button"
                        className="link"
                        name={`scale-${s.name}`}
                        onClick={() => setForm({ id: s.id, name: s.name, resolution_g: s.shown.text })}
                      >
                        {s.name}
                      </button>
                    ) : (
                      <b>{s.name}</b>
                    )}
                  </td>
                  <td className="num">{s.shown.text}</td>
                  <td className="slate">
                    {says
                      ? says.heard
                        ? `speaks now: ${says.load?.text ?? "–"}`
                        : "speaks, silent now"
                      : "read by eye"}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
      {mayEdit && (
        <section aria-label="A scale">
          <span className="label">{known ? "Change this scale" : "Another scale"}</span>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              keep.mutate();
            }}
          >
            <div className="fields">
              <Words
                name="name"
                label="Name"
                value={form.name}
                set={(text) => setForm((f) => ({ ...f, name: text }))}
                most={80}
                wrong={at("name", refusals)}
              />
              <Field
                name="resolution_g"
                label="Least step it shows"
                value={form.resolution_g}
                onChange={(t) => setForm((f) => ({ ...f, resolution_g: t }))}
                {...(at("resolution_g", refusals) ? { error: at("resolution_g", refusals) ?? "" } : {})}
              />
            </div>
            <div className="actions">
              <Button type="submit" variant="outlined" name="keep-scale" disabled={keep.isPending}>
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
