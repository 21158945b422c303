// A pot in another cup, or a part of it in a second vessel: each keeps its age.
import { useRef } from "react";
import { v7 } from "uuid";
import { useEntryForm } from "../../api/useEntryForm";
import { EntryField } from "../../ui/EntryField";
import { useScale } from "../../ui/ScaleChoice";
import type { PotProps } from "./PotWork";
import { Act } from "../../ui/Act";

export function TransferForm({ view, pot }: PotProps) {
  const scale = useScale("bench");
  const entry = useEntryForm(
    view.id,
    "transfer",
    { reading_g: "" },
    {
      asks: () => false,
      says: (f) =>
        f.reading_g.trim() && scale.instrument
          ? { ...f, charge: pot.id, instrument: scale.instrument }
          : null,
    },
  );
  return (
    <form className="actions" onSubmit={entry.submit}>
      <EntryField of={entry} name="reading_g" label="In the other cup, tared" />
      {scale.choice}
      <Act
        name="log-transfer"
        word="Moved to another cup"
        needs={!entry.ready && "type what it weighs"}
        quiet
      />
      {entry.stray && <span className="refusal">{entry.stray}</span>}
    </form>
  );
}

export function DivideForm({ view, pot }: PotProps) {
  const next = useRef(v7());
  const entry = useEntryForm(
    view.id,
    "divide",
    { part_ml: "" },
    {
      asks: () => false,
      says: (f) => (f.part_ml.trim() ? { ...f, charge: pot.id, new_charge: next.current } : null),
    },
  );
  return (
    <form
      className="actions"
      onSubmit={(e) => {
        e.preventDefault();
        void entry.take().then((ok) => ok && (next.current = v7()));
      }}
    >
      <EntryField of={entry} name="part_ml" label="Into a second vessel" />
      <Act name="divide" word="Divide the pot" needs={!entry.ready && "type how much goes over"} quiet />
      {entry.stray && <span className="refusal">{entry.stray}</span>}
    </form>
  );
}
