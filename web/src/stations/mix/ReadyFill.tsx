// Ready to use: so much out of its can into the gun's cup or the pot, one press a fill. Nothing is mixed.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import type { Schemas } from "../../api/client";
import { offered, useWords } from "../../api/forms";
import { meQuery } from "../../api/queries";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";
import { Check } from "../../ui/Check";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import { PotPicture } from "../../rack/Rack";
import { OutOfTheCan } from "../../ui/pictures/OutOfTheCan";
import { ToStation } from "../../ui/ToStation";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Fills } from "./Fills";

const EMPTY = {
  into: "gun_cup" as Schemas["FillInto"],
  fill_ml: "",
  dose_g: "",
  stirred: true,
  strained: false,
};

export function ReadyFill({ view }: StationProps<"mix">) {
  const words = useWords();
  const zone = useQueryClient().getQueryData(meQuery.queryKey)?.zone ?? "UTC";
  const [fresh] = useState(() => v7());
  const pot = view.mix.pots[0];
  const charge = pot?.id ?? fresh;
  const entry = useEntryForm(view.id, "ready_fill", EMPTY, {
    begin: { into: view.mix.ready_into, fill_ml: pot ? "" : view.mix.propose.text },
    keep: ({ into, stirred, strained }) => ({ into, stirred, strained }),
    says: (f) => (f.fill_ml.trim() ? { ...f, charge, dose_g: f.dose_g.trim() ? f.dose_g : null } : null),
  });
  const f = { of: entry };
  const would = entry.view?.mix?.pots.find((p) => p.id === charge);
  const fill = would?.fills[0];
  const matches = fill ? fill.matching?.text : (pot?.dose_for_litre ?? view.mix.dose_for_litre)?.text;
  const dosed = Boolean(view.mix.dose_for_litre) || Boolean(matches);
  const live = view.pots.find((p) => p.id === pot?.id);
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <span className="label">Ready to use: how much out of its can?</span>
        <div className={`fields ${dosed ? "three" : ""}`}>
          <EntryField
            {...f}
            name="fill_ml"
            label="How much"
            autoFocus
            hint={`the coat needs ${view.mix.need.text}`}
          />
          <EntryChoice {...f} name="into" label="Into" options={offered(words.fill_into)} />
          {dosed && (
            <EntryField
              {...f}
              name="dose_g"
              label="Additive into it"
              hint={matches ? `${matches} matches` : " "}
            />
          )}
        </div>
        <div className="actions">
          <Act name="ready-fill" word="Pour it in" needs={!entry.ready && "type how much goes in"} />
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
        </div>
        {entry.stray && <p className="refusal">{entry.stray}</p>}
        {(would ?? pot)?.judgements.map((j) => (
          <p key={j.code} className="word-tell" role="status">
            {j.text}
          </p>
        ))}
        <p className="slate">One can: no ratio, no life. What is left at the end goes back to it.</p>
        {pot && <ToStation view={view} at={5} word="To Spray" />}
      </form>
      <div className="see">
        {live && (
          <div style={{ display: "flex", gap: 16, alignItems: "center" }}>
            <PotPicture pot={live} age={0} size={120} />
            <div>
              <b>Pot {live.no}</b>
              <br />
              {live.left.text} left
            </div>
          </div>
        )}
        {pot ? (
          <Fills pot={pot} zone={zone} asOf={view.as_of} />
        ) : (
          <>
            <OutOfTheCan />
            <WorkingSheet working={view.mix.need_working} />
          </>
        )}
      </div>
    </>
  );
}
