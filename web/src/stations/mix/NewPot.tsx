// A new pot: how much finished paint, said in whichever way it is known.
import { useState } from "react";
import { v7 } from "uuid";
import type { Schemas } from "../../api/client";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { Choice } from "../../ui/Choice";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { NotKnown } from "./ByCup";
import { Cup } from "./Cup";
import { PourTable } from "./PourTable";
import { Act } from "../../ui/Act";

type Way = Schemas["MixView"]["ways"][number];
type Form = Record<string, string>;

/** What a form says by a way of saying how much; null: not all of it is filled in. */
function says(way: Way | undefined, charge: string, form: Form): Schemas["OpenChargeTyped"] | null {
  if (!way) return null;
  const asked = way.fields.map((f) => [f.name, form[f.name] ?? ""] as const);
  if (asked.some(([, v]) => v.trim() === "") || (way.asks_of_what && !form.figure_is)) return null;
  const figures = Object.fromEntries(asked);
  if (way.from === "volume") return { charge, kind: "pot", ...figures };
  const of = way.asks_of_what ? { figure_is: form.figure_is || null } : {};
  // Which fields a way asks comes from the server with it; together they are what it says.
  const amount = { from: way.from, ...figures, ...of } as unknown as NonNullable<
    Schemas["OpenChargeTyped"]["amount"]
  >;
  return { charge, kind: "pot", amount };
}

export function NewPot({ view, done }: StationProps<"mix"> & { done: () => void }) {
  const [from, setFrom] = useState("volume");
  const [charge] = useState(() => v7());
  const way = view.mix.ways.find((w) => w.from === from) ?? view.mix.ways[0];
  const plain = way?.from === "volume";
  const entry = useEntryForm(view.id, "open_charge", {} as Form, {
    begin: { wanted_ml: view.mix.propose.text },
    says: (form) => says(way, charge, form),
  });
  const pot = entry.view?.mix?.pots.find((p) => p.id === charge);
  const path = (name: string) => (plain ? name : `amount.${name}`);
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void entry.take().then((ok) => ok && done());
        }}
      >
        <span className="label">How much finished paint in this pot?</span>
        <Choice
          name="from"
          label="Reckoned from"
          value={from}
          set={setFrom}
          options={view.mix.ways.map((w) => [w.from, w.label] as const)}
        />
        <div className="fields">
          {way?.fields.map((f, i) => (
            <EntryField
              key={f.name}
              of={entry}
              name={f.name}
              path={path(f.name)}
              label={f.label}
              hint={f.in_stores ?? " "}
              autoFocus={i === 0}
            />
          ))}
          {way?.asks_of_what && (
            <EntryChoice
              of={entry}
              name="figure_is"
              label="The figure is of"
              options={[
                ["", " "],
                ["base", "base out of its can"],
                ["finished", "finished paint"],
              ]}
            />
          )}
        </div>
        <p className="slate">
          The coat needs {view.mix.need.text}; {view.mix.propose.text} of it is proposed for this pot.
        </p>
        <div className="actions">
          <Act name="open-pot" word="Open the pot" needs={!entry.ready && "type how much is wanted"} />
          {pot && !plain && (
            <span>
              makes <b className="mono">{pot.wanted.text}</b>
            </span>
          )}
          {entry.stray && <span className="refusal">{entry.stray}</span>}
        </div>
        {pot && <PourTable lines={pot.lines} />}
      </form>
      <div className="see">
        <Cup marks={pot?.marks ?? []} />
        <NotKnown of={view.mix.not_known ?? []} />
        <WorkingSheet working={pot?.asked ?? view.mix.need_working} />
        <WorkingSheet working={pot?.working} last={4} />
      </div>
    </>
  );
}
