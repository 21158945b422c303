// Two ways beside each other: thinner, temperature, vessel, rate. Nothing is stored.
import { capital, putOn } from "../../batch/putOn";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { filledOf, useCompute } from "../../api/compute";
import { at } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { Field } from "../../ui/Field";
import { SlabPicture } from "../../ui/pictures/SlabPicture";
import { planOf, rateMissing } from "./PlanPots";
import { PotLine } from "./PotLine";

export function TwoWays({ view }: StationProps<"mix">) {
  return (
    <div className="two-ways">
      <Way view={view} name="As planned" />
      <Way view={view} name="Another way" />
    </div>
  );
}

function Way({ view, name }: StationProps<"mix"> & { name: string }) {
  const texts = view.mix.plan?.texts ?? {};
  const [form, setForm] = useState<Record<string, string>>({ ...texts });
  const [temp, setTemp] = useState("");
  const plan = planOf(view, form, view.mix.plan?.entered?.more?.by_learned ?? false);
  const {
    data: w,
    refusals,
    said,
  } = useCompute(`way ${view.id}`, plan ? { plan, ...filledOf({ temp_c: temp }) } : null, (way) =>
    ask(
      api.POST("/api/v1/compute/mixing/what-if/{id}", {
        params: { path: { id: view.id } },
        body: { way },
      }),
    ),
  );
  const set = (field: string) => (v: string) => setForm((f) => ({ ...f, [field]: v }));
  const field = (path: string, key: string, label: string) => (
    <Field
      name={`${name === "As planned" ? "one" : "two"}-${key}`}
      label={label}
      value={key === "temp_c" ? temp : (form[key] ?? "")}
      onChange={key === "temp_c" ? setTemp : set(key)}
      {...(at(path, refusals) ? { error: at(path, refusals) ?? "" } : {})}
    />
  );
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      <div className="fields">
        {putOn(view).by_hand
          ? field("plan.in_an_hour_m2", "in_an_hour_m2", "Coated in an hour")
          : field("plan.rate_ml_min", "rate_ml_min", "Sprayed in a minute")}
        {field("plan.fill_ml", "fill_ml", "A pot holds")}
        {(view.mix.plan?.may_thin ?? false) && field("plan.thinner_pct", "thinner_pct", "Thinner")}
        {field("temp_c", "temp_c", "Material")}
      </div>
      {!plan && (
        <>
          <SlabPicture film={view.mix.plan?.film} need={view.mix.plan?.need} />
          <p className="slate">{capital(rateMissing(view))}.</p>
        </>
      )}
      {said && <p className="refusal">{said}</p>}
      {w && (
        <>
          <table className="rows facts">
            <tbody>
              {(
                [
                  ["To mix", w.need.text],
                  ["Thinner in it", w.thinner?.text],
                  ["Solids", w.solids.text],
                  ["Life", w.life],
                  ["Induction", w.induction],
                  ["Pots", `${w.pots.length} of ${w.pots[0]?.amount.text ?? ""}`],
                  [`${capital(putOn(view).done)} in`, w.sprayed_in],
                ] as const
              ).map(
                ([what, figure]) =>
                  figure && (
                    <tr key={what}>
                      <td>{what}</td>
                      <td className="num">
                        <b>{figure}</b>
                      </td>
                    </tr>
                  ),
              )}
            </tbody>
          </table>
          <PotLine pots={w.pots} />
          <p className="small slate">{w.because}</p>
        </>
      )}
    </section>
  );
}
