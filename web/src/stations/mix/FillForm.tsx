// So much of a pot goes to the gun, stirred and strained.
import type { Schemas } from "../../api/client";
import { offered, useWords } from "../../api/forms";
import { useEntryForm } from "../../api/useEntryForm";
import { Check } from "../../ui/Check";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import type { PotProps } from "./PotWork";
import { Act } from "../../ui/Act";

const EMPTY = {
  into: "pressure_pot" as Schemas["FillInto"],
  fill_ml: "",
  dose_g: "",
  stirred: false,
  strained: false,
};

export function FillForm({ view, pot }: PotProps) {
  const words = useWords();
  const entry = useEntryForm(view.id, "fill", EMPTY, {
    keep: ({ into, stirred, strained }) => ({ into, stirred, strained }),
    says: (f) =>
      f.fill_ml.trim() ? { ...f, charge: pot.id, dose_g: f.dose_g.trim() ? f.dose_g : null } : null,
  });
  const f = { of: entry };
  // What this fill would be, once an amount is typed.
  const would = entry.view?.mix?.pots.find((p) => p.id === pot.id);
  const fill = would?.fills[0];
  const matches = fill ? fill.matching?.text : pot.dose_for_litre?.text;
  const said = fill ? would.judgements.filter((j) => ["dose-steps", "straining"].includes(j.code)) : [];
  return (
    <form style={{ display: "grid", gap: 8 }} onSubmit={entry.submit}>
      <div className="fields">
        <EntryChoice {...f} name="into" label="Into" options={offered(words.fill_into)} />
        <EntryField {...f} name="fill_ml" label="How much" />
        <EntryField
          {...f}
          name="dose_g"
          label="Additive into it"
          hint={matches ? `${matches} matches` : " "}
        />
      </div>
      <div className="actions">
        <Act name="log-fill" word="Fill" needs={!entry.ready && "type how much goes in"} />
        <Check
          name="fill-stirred"
          word="stirred just before"
          on={entry.form.stirred}
          set={(stirred) => entry.put({ stirred })}
        />
        <Check
          name="fill-strained"
          word="strained"
          on={entry.form.strained}
          set={(strained) => entry.put({ strained })}
        />
        {entry.stray && <span className="refusal">{entry.stray}</span>}
      </div>
      {said.map((j) => (
        <p key={j.code} className="word-tell" role="status">
          {j.text}
        </p>
      ))}
    </form>
  );
}
