// The combs of the shop, drawn with their teeth: what a reading can be is what its teeth are.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { at } from "../api/entry";
import { instrumentsQuery } from "../api/queries";
import { Words } from "../ui/Words";

const empty = () => ({ id: v7(), name: "", teeth: "" });

export function Combs({ mayEdit }: { mayEdit: boolean }) {
  const client = useQueryClient();
  const combs = useQuery(instrumentsQuery).data?.filter((i) => i.kind === "comb") ?? [];
  const [form, setForm] = useState(empty);
  const keep = useMutation({
    mutationFn: () => {
      const { id, ...comb } = form;
      return ask(api.PUT("/api/v1/instruments/combs", { body: { id, comb } }));
    },
    onSuccess: async () => {
      setForm(empty());
      await client.invalidateQueries({ queryKey: ["instruments"] });
    },
  });
  const refusals = keep.error instanceof Refused ? keep.error.problem.fields : [];
  const known = combs.some((c) => c.id === form.id);
  const set = (change: Partial<typeof form>) => {
    keep.reset();
    setForm((f) => ({ ...f, ...change }));
  };
  return (
    <div className="tips-two">
      <section aria-label="Combs">
        {combs.map((c) => (
          <div key={c.id} className="comb-row">
            {mayEdit ? (
              <button
                type="button"
                className="link"
                name={`comb-${c.name}`}
                onClick={() => set({ id: c.id, name: c.name, teeth: c.teeth ?? "" })}
              >
                {c.name}
              </button>
            ) : (
              <b>{c.name}</b>
            )}
            <CombPicture count={(c.teeth ?? "").split(" ").filter((t) => /^\d/.test(t)).length} />
            <span className="small slate mono">{c.teeth}</span>
          </div>
        ))}
      </section>
      {mayEdit && (
        <section aria-label="A comb">
          <span className="label">{known ? "Change this comb" : "Another comb"}</span>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              keep.mutate();
            }}
          >
            <div className="fields">
              <Words
                name="comb-name"
                label="Name"
                value={form.name}
                set={(name) => set({ name })}
                most={80}
                wrong={at("name", refusals)}
              />
              <Words
                name="comb-teeth"
                label="Its teeth, least first"
                value={form.teeth}
                set={(teeth) => set({ teeth })}
                most={300}
                wrong={at("teeth", refusals)}
                hint="1 2 3 4 6 8 mil"
                mono
              />
            </div>
            <div className="actions">
              <Button type="submit" variant="outlined" name="keep-comb" disabled={keep.isPending}>
                Keep it
              </Button>
              {known && (
                <Button variant="text" onClick={() => set(empty())} sx={{ color: "text.primary" }}>
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

/** Its edge: two feet and the teeth between them, each a little shorter than the one before. */
function CombPicture({ count }: { count: number }) {
  const wide = 300;
  const step = (wide - 40) / Math.max(count, 1);
  const tooth = Math.max(3, step * 0.6);
  const teeth = Array.from({ length: count }, (_, i) => {
    const x = 20 + step * i + (step - tooth) / 2;
    const down = 30 - (i / Math.max(count - 1, 1)) * 14;
    return `V14 H${x.toFixed(1)} V${down.toFixed(1)} h${tooth.toFixed(1)}`;
  });
  return (
    <svg width={wide} height="36" viewBox={`0 0 ${wide} 36`} aria-hidden>
      <path
        d={`M2 2 V32 H18 ${teeth.join(" ")} V14 H${wide - 18} V32 H${wide - 2} V2 Z`}
        fill="var(--panel)"
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
    </svg>
  );
}
