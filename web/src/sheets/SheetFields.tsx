// The groups of fields of a sheet, each a picture of one part of a data sheet.
import type { ReactNode } from "react";
import { offered, useForms, useWords } from "../api/forms";
import { rowsOf, slot, type Form } from "./form";

/** What makes a field of the sheet, whichever group it stands in. */
export type Fields = {
  form: Form;
  /** Nobody but those who keep the sheets may change one. */
  fixed: boolean;
  text: (name: string) => string;
  set: (name: string, value: string | boolean | string[]) => void;
  quantity: (name: string, label: string, hint?: string) => ReactNode;
  choice: (name: string, label: string, options: [string, string][]) => ReactNode;
  words: (name: string, label: string, hint: string, most: number) => ReactNode;
  tick: (name: string, label: string) => ReactNode;
};

/** Name, label, how it is mixed. */
export function Product({ quantity, choice, words, tick }: Fields) {
  const known = useWords();
  return (
    <fieldset>
      <legend>Product</legend>
      <div className="grid4">
        {words("name", "Name", "as on the can", 90)}
        {words("label", "Short label", "14 letters; proposed when empty", 20)}
        {choice("charge", "Mixed", offered(known.charge_kind))}
        {quantity("solids_pct", "Volume solids")}
      </div>
      {tick("has_hardener", "It has a second component (hardener, catalyst, activator)")}
    </fieldset>
  );
}

/** How base and hardener are proportioned, and how far it may be thinned. */
export function Proportion({ choice, form, quantity, text }: Fields) {
  const known = useWords();
  const hardened = form.has_hardener === true;
  const basis = text("basis");
  const percent = basis === "percent_by_weight" || basis === "percent_by_volume";
  const kit = basis === "by_kit";
  return (
    <fieldset>
      <legend>Proportion</legend>
      <div className="grid4">
        {quantity("base_density_kg_l", "Density of base A")}
        {hardened && quantity("hardener_density_kg_l", "Density of hardener B")}
        {hardened && choice("basis", "Basis of the ratio", offered(known.basis))}
        {hardened && !percent && !kit && quantity("ratio", "Ratio A : B", "such as 4:1")}
        {hardened && percent && quantity("hardener_pct", "Hardener on base")}
        {hardened && percent && quantity("band_low_pct", "Band, least")}
        {hardened && percent && quantity("band_high_pct", "Band, most")}
        {hardened && quantity("tolerance_pct", "Tolerance on B per A", "5 % when empty")}
        {hardened && quantity("kit_base_g", "Kit: base in its can", kit ? "by weight" : "when sold as a kit")}
        {hardened && quantity("kit_hardener_g", "Kit: hardener in its can")}
      </div>
      <div className="grid4">
        {quantity("thinner_max_pct", "Thinner, at most", "empty: never thinned")}
        {text("thinner_max_pct") && choice("thinner_basis", "Per cent", offered(known.thinner_basis))}
        {text("thinner_max_pct") && quantity("thinner_density_kg_l", "Density of thinner")}
      </div>
    </fieldset>
  );
}

/** What is stirred in after the ratio is made. */
export function Additives({ quantity, words, form }: Fields) {
  const most = useForms().most;
  return (
    <fieldset>
      <legend>Additives</legend>
      {rowsOf(form, "additives", most).map((i) => (
        <div className="grid4" key={i}>
          {words(slot("additives", i, "name"), "Additive", "pearl, flattening paste …", 24)}
          {quantity(
            slot("additives", i, "dose_g_l"),
            "Dose in sprayable paint",
            "by volume of A, B and thinner",
          )}
          {quantity(slot("additives", i, "dose_pct"), "or on the base", "by weight")}
          {quantity(slot("additives", i, "density_kg_l"), "Its density", "empty: adds no volume")}
        </div>
      ))}
    </fieldset>
  );
}

/** Pot life, induction and recoat, at one temperature or several. */
export function Clocks({ form, quantity, text }: Fields) {
  const most = useForms().most;
  const hardened = form.has_hardener === true;
  return (
    <fieldset>
      <legend>Clocks</legend>
      <div className="grid4">
        {hardened && text("charge") === "pot" && quantity("pot_life_s", "Pot life", "such as 4 h")}
        {hardened && text("charge") === "pot" && quantity("pot_life_at_c", "stated at")}
        {hardened && text("charge") === "pot" && quantity("induction_s", "Induction")}
        {quantity("recoat_min_s", "Recoat, earliest")}
        {quantity("recoat_max_s", "Recoat, latest")}
        {quantity("recoat_at_c", "stated at")}
      </div>
      {rowsOf(form, "times", most).map((i) => (
        <div className="grid5" key={i}>
          {quantity(slot("times", i, "at_c"), "And at", "a further temperature")}
          {hardened && text("charge") === "pot" && quantity(slot("times", i, "pot_life_s"), "Pot life")}
          {hardened && text("charge") === "pot" && quantity(slot("times", i, "induction_s"), "Induction")}
          {quantity(slot("times", i, "recoat_min_s"), "Earliest recoat")}
          {quantity(slot("times", i, "recoat_max_s"), "Latest recoat")}
        </div>
      ))}
    </fieldset>
  );
}

/** The film wanted, what proves it, and the air it may go on in. */
export function FilmAndConditions({ quantity, choice }: Fields) {
  const known = useWords();
  return (
    <fieldset>
      <legend>Film and conditions</legend>
      <div className="grid4">
        {quantity("wet_um", "Wet film, aim")}
        {quantity("wet_min_um", "Wet film, least")}
        {quantity("wet_max_um", "Wet film, most")}
        {choice("film_proof", "The film is proved by", offered(known.film_proof))}
        {choice("stream", "Stream school", offered(known.stream_school))}
        {quantity("temp_min_c", "Coldest")}
        {quantity("temp_max_c", "Hottest")}
        {quantity("margin_min_dk", "Least above dew point", "empty: not applicable")}
        {quantity("rh_max_pct", "Most humidity", "empty: not applicable")}
      </div>
    </fieldset>
  );
}

/** What the data sheet warns of. */
export function Hazards({ form, fixed, set }: Fields) {
  const known = useWords();
  const hazards = Array.isArray(form.hazards) ? form.hazards : [];
  return (
    <fieldset>
      <legend>Hazards</legend>
      <div className="grid4">
        {known.hazard.map(({ value, word }) => (
          <label key={value} className="tick">
            <input
              type="checkbox"
              name={`hazard-${value}`}
              checked={hazards.includes(value)}
              disabled={fixed}
              onChange={(e) =>
                set("hazards", e.target.checked ? [...hazards, value] : hazards.filter((h) => h !== value))
              }
            />
            {word}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
