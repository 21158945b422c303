// What a sheet says beside ratio and clocks: stirring, straining, steps, surface, rig, keeping.
import { offered, useForms, useWords } from "../api/forms";
import { rowsOf, slot } from "./form";
import type { Fields } from "./SheetFields";

export function Handling({ form, quantity, choice, words, tick }: Fields) {
  const known = useWords();
  const most = useForms().most;
  return (
    <>
      <fieldset>
        <legend>Stirring and straining</legend>
        <div className="grid4">
          {choice("stir", "Stirred", offered(known.stir))}
          {quantity("stir_again_s", "Settles: stir again every", "empty: does not settle")}
          {quantity("strain_um", "Strain through", "mesh")}
          {quantity("gun_filter_um", "Gun filter", "mesh")}
          {quantity("drum_stir_min_s", "Drum: stir at least", "gel coat")}
          {quantity("drum_stir_max_s", "Drum: stir at most")}
          {quantity("drum_rest_s", "Drum: rest")}
          {quantity("tip_min_um", "Smallest nozzle", "for flake")}
        </div>
      </fieldset>
      <fieldset>
        <legend>Steps of a coat</legend>
        {rowsOf(form, "steps", most).map((i) => (
          <div className="grid4" key={i}>
            {words(slot("steps", i, "name"), `Step ${i + 1}`, "tack, wet, ground …", 24)}
            {quantity(slot("steps", i, "atomizing_kpa"), "Atomizing")}
            {quantity(slot("steps", i, "passes_count"), "Passes")}
            {quantity(slot("steps", i, "wait_s"), "Then wait")}
          </div>
        ))}
        <div className="grid4">
          {choice("overlap", "Overlap", offered(known.overlap_school))}
          {quantity("catalyst_air_min_kpa", "Catalyst air, least")}
          {quantity("catalyst_air_max_kpa", "Catalyst air, most")}
          {quantity("viscosity_mpa_s", "Viscosity as sprayed")}
          {quantity("viscosity_at_c", "At")}
          {quantity("viscosity_warm_mpa_s", "Viscosity, warmer")}
          {quantity("viscosity_warm_at_c", "At")}
          {quantity("flow_index", "Flow index", "power law, under 1 thins")}
        </div>
      </fieldset>
      <fieldset>
        <legend>Surface, colour, rig</legend>
        <div className="grid4">
          {words("colour", "Colour", "of the base", 40)}
          {words("undercoat_colour", "Undercoat", "where the finish is see-through", 40)}
          {quantity("profile_min_um", "Profile, least", "blasted")}
          {quantity("profile_max_um", "Profile, most")}
          {quantity("mock_up_over_m2", "Mock-up over", "area")}
          {quantity("pot_life_mass_g", "Pot life holds up to", "mass in one pot")}
          {words("flush_with", "Flush with", "solvent", 80)}
          {words("price_minor_l", "Price of a litre, in cents", "for the cost of waste", 9)}
          {words("excludes", "Not for", "service the sheet excludes", 300)}
        </div>
        {words("least_rig", "Least rig", "hose bores, tank rating, regulators, nozzle and cap", 300)}
      </fieldset>
      <fieldset>
        <legend>Keeping</legend>
        <div className="grid4">
          {words("shelf_life_days", "Shelf life, days", "from the day it was made", 5)}
          {quantity("store_min_c", "Store, coldest")}
          {quantity("store_max_c", "Store, warmest")}
          {quantity("hardener_store_max_c", "Hardener, warmest", "where it wants its own")}
        </div>
        {tick("certificate_needed", "A lot without its certificate is held")}
      </fieldset>
    </>
  );
}
