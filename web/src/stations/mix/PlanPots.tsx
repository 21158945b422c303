// How much, in how many pots: what it takes beyond the film, the planned rate, and each pot on a line of time.
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useEntryForm } from "../../api/useEntryForm";
import { putOn } from "../../batch/putOn";
import type { StationProps } from "../../batch/station";
import { Field } from "../../ui/Field";
import { SlabPicture } from "../../ui/pictures/SlabPicture";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { PlanPaper } from "./PlanPaper";
import { PotLine } from "./PotLine";
import { Act } from "../../ui/Act";

type Form = Record<string, string>;
const MORE = ["hose_bore_mm", "hose_length_mm", "heel_ml", "profile_um", "extra_pct"];
const OWN = ["fill_ml", "handling_s", "thinner_pct"];

/** How fast it goes on: by the minute from a gun, by the area of an hour by hand. */
const rateField = (view: StationProps<"mix">["view"]) =>
  putOn(view).by_hand ? "in_an_hour_m2" : "rate_ml_min";

/** What stands beside the grey button. */
export const rateMissing = (view: StationProps<"mix">["view"]) =>
  putOn(view).by_hand ? "type how much is coated in an hour" : "type how much is sprayed in a minute";

/** The entry a form makes: what is empty is left out. Null without the rate, which every plan hangs on. */
export function planOf(
  view: StationProps<"mix">["view"],
  form: Form,
  by_learned: boolean,
): Schemas["PlanMixTyped"] | null {
  const some = (names: string[]) =>
    Object.fromEntries(names.filter((n) => form[n]?.trim()).map((n) => [n, form[n]]));
  const rate = rateField(view);
  return form[rate]?.trim() ? { ...some([rate, ...OWN]), more: { ...some(MORE), by_learned } } : null;
}

export function PlanFields({
  form,
  set,
  understood,
  error,
  thinner,
  view,
}: {
  form: Form;
  view: StationProps<"mix">["view"];
  set: (name: string, value: string) => void;
  understood?: Record<string, Schemas["Shown"]> | undefined;
  error: (path: string) => string | undefined;
  thinner: boolean;
}) {
  const { by_hand } = putOn(view);
  const field = (name: string, label: string, hint?: string, nested = false) => (
    <Field
      name={nested ? `more.${name}` : name}
      label={label}
      value={form[name] ?? ""}
      onChange={(v) => set(name, v)}
      understood={understood}
      hint={hint}
      error={error(nested ? `more.${name}` : name)}
    />
  );
  return (
    <div className="fields three">
      {by_hand
        ? field("in_an_hour_m2", "Coated in an hour", "an area")
        : field("rate_ml_min", "Sprayed in a minute")}
      {field("fill_ml", "A pot holds", "its fill limit")}
      {thinner && field("thinner_pct", "Thinner")}
      {field("handling_s", "Stir, strain, fill", "5 min if empty")}
      {!by_hand && field("hose_bore_mm", "Hose bore", undefined, true)}
      {!by_hand && field("hose_length_mm", "Hose length", undefined, true)}
      {field("heel_ml", "Stays in the pot", by_hand ? undefined : "heel, liner, can stood in it", true)}
      {field("profile_um", "Fills the profile", "dry film", true)}
      {field("extra_pct", "Extra", undefined, true)}
    </div>
  );
}

export function PlanPots({ view }: StationProps<"mix">) {
  const plan = view.mix.plan;
  const [learned, setLearned] = useState(plan?.entered?.more?.by_learned ?? false);
  const entry = useEntryForm(view.id, "plan_mix", {} as Form, {
    begin: { ...plan?.texts },
    // A plan stands in its form, to be planned anew from.
    keep: (form) => form,
    says: (form) => planOf(view, form, learned),
  });
  const seen = entry.view?.mix?.plan ?? plan;
  if (!plan || !seen) return null;
  // On paper a plan that is kept stands as a table; until then the form is not worth its paper.
  const planned = plan.each_pot.length > 0;
  return (
    <>
      {planned && <PlanPaper view={view} plan={plan} />}
      <form className={planned ? "do no-print" : "do"} onSubmit={entry.submit}>
        <span className="label">
          {putOn(view).by_hand ? "How will it be put on?" : "How will it be sprayed?"}
        </span>
        <PlanFields
          form={entry.form}
          set={(name, value) => entry.put({ [name]: value })}
          understood={entry.understood}
          error={entry.error}
          thinner={plan.may_thin}
          view={view}
        />
        <div className="actions">
          <Act
            name="plan-pots"
            word={plan.entered ? "Plan anew" : "Plan the pots"}
            needs={!entry.ready && rateMissing(view)}
          />
          {entry.stray && <span className="refusal">{entry.stray}</span>}
        </div>
        {seen.learned && (
          <label className="tick">
            <input
              type="checkbox"
              name="by_learned"
              checked={learned}
              onChange={(e) => setLearned(e.target.checked)}
            />
            Reckon with what such coats took: {seen.learned}
          </label>
        )}
      </form>
      <div className={planned ? "see no-print" : "see"}>
        <p>
          To mix <b className="live mono">{seen.need.figure}</b> {seen.need.unit}
          {seen.span && <span className="slate"> between {seen.span} by the area</span>}
        </p>
        <p className="small">{seen.film}</p>
        {seen.refused && <p className="refusal">{seen.refused}</p>}
        {seen.pots.length === 0 && <SlabPicture film={seen.film} need={seen.need} />}
        {seen.pots.length > 0 && (
          <>
            <PotLine pots={seen.pots} />
            <p className="small">
              {seen.pots.length} {seen.pots.length === 1 ? "pot" : "pots"} of {seen.pots[0]?.amount.text}:{" "}
              {seen.because}
              {seen.life ? `; ${seen.life}` : ""}
            </p>
            {seen.each_pot.length > 0 && (
              <p>
                In each: {seen.each_pot.map((p) => `${p.name} ${p.mass.text}`).join(", ")}{" "}
                <button type="button" className="link" name="print-plan" onClick={() => window.print()}>
                  Print it
                </button>
              </p>
            )}
          </>
        )}
        {seen.stock.map((s) => (
          <p key={s} className="refusal">
            {s}
          </p>
        ))}
        <WorkingSheet working={seen.working} last={4} />
        <WorkingSheet working={seen.takeoff} last={1} />
      </div>
    </>
  );
}
