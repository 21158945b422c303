// Two ways beside each other: thinner, temperature, vessel, rate. Nothing is stored.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import type { StationProps } from "../batch/station";
import { Field } from "../ui/Field";
import { planOf } from "./PlanPots";
import { PotLine } from "./PotLine";

export function TwoWays({ view }: StationProps) {
  return (
    <div className="two-ways">
      <Way view={view} name="As planned" />
      <Way view={view} name="Another way" />
    </div>
  );
}

function Way({ view, name }: StationProps & { name: string }) {
  const texts = view.mix.plan?.texts ?? {};
  const [form, setForm] = useState<Record<string, string>>({ ...texts });
  const [temp, setTemp] = useState("");
  const plan = planOf(form, view.mix.plan?.entered?.more?.by_learned ?? false);
  const ready = Boolean(form.rate_ml_min?.trim());
  const text = useDebounced(JSON.stringify({ plan, ...(temp.trim() ? { temp_c: temp } : {}) }));
  const way = useQuery({
    queryKey: ["what-if", view.id, text],
    queryFn: () =>
      ask(
        api.POST("/api/v1/compute/mixing/what-if/{id}", {
          params: { path: { id: view.id } },
          body: { way: JSON.parse(text) as object } as never,
        }),
      ),
    enabled: ready,
    retry: false,
    gcTime: 0,
    placeholderData: (was) => was,
  });
  const refusals = way.error instanceof Refused ? way.error.problem.fields : [];
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
  const w: Schemas["WhatIf"] | undefined = way.error ? undefined : way.data;
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      <div className="fields">
        {field("plan.rate_ml_min", "rate_ml_min", "Sprayed in a minute")}
        {field("plan.fill_ml", "fill_ml", "A pot holds")}
        {(view.mix.plan?.may_thin ?? false) && field("plan.thinner_pct", "thinner_pct", "Thinner")}
        {field("temp_c", "temp_c", "Material")}
      </div>
      {!ready && <p className="slate">Say how much is sprayed in a minute.</p>}
      {way.error && <p className="refusal">{way.error.message}</p>}
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
                  ["Sprayed in", w.sprayed_in],
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
