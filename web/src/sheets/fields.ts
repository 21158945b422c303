// Every field of a sheet: what it is called, what is typed in it, and the group it stands in when it is not asked first.
import type { Schemas } from "../api/client";

type Words = Schemas["Forms"]["words"];

export type FieldOf =
  | { as: "figure"; name: string; label: string; hint?: string }
  | { as: "choice"; name: string; label: string; of: keyof Words }
  | { as: "words"; name: string; label: string; hint: string; most: number }
  | { as: "tick"; name: string; label: string };

export type ListOf = { list: "additives" | "times" | "steps"; row: FieldOf[] };

export type Group = { name: string; fields: FieldOf[]; rows?: ListOf };

const figure = (name: string, label: string, hint?: string): FieldOf => ({
  as: "figure",
  name,
  label,
  ...(hint ? { hint } : {}),
});
const choice = (name: string, label: string, of: keyof Words): FieldOf => ({ as: "choice", name, label, of });
const words = (name: string, label: string, hint: string, most: number): FieldOf => ({
  as: "words",
  name,
  label,
  hint,
  most,
});
const tick = (name: string, label: string): FieldOf => ({ as: "tick", name, label });

export const GROUPS: Group[] = [
  {
    name: "Product and proportion",
    fields: [
      words("label", "Short label", "14 letters; proposed when empty", 20),
      choice("charge", "Mixed", "charge_kind"),
      tick("has_hardener", "It has a second component"),
      figure("base_density_kg_l", "Density of A", "empty: by volume alone"),
      figure("hardener_density_kg_l", "Density of B", "both or neither"),
      choice("basis", "Basis of the ratio", "basis"),
      figure("ratio", "Ratio A : B", "such as 4:1"),
      figure("hardener_pct", "Hardener on base"),
      figure("band_low_pct", "Band, least"),
      figure("band_high_pct", "Band, most"),
      figure("tolerance_pct", "Tolerance on B", "on B per A; 5 % when empty"),
      figure("kit_base_g", "Kit: base in its can", "when sold as a kit"),
      figure("kit_hardener_g", "Kit: hardener in its can"),
      figure("kit_base_ml", "Kit by volume: base"),
      figure("kit_hardener_ml", "Kit by volume: hardener"),
      tick("kit_to_line", "Kit: hardener is filled to the line of the base can"),
      tick("mixed_by_cup", "Released for every batch: mixed by a cup that cannot prove it"),
      tick("bond_test", "A bond test comes before it goes on the part"),
      figure("solids_pct", "Volume solids"),
    ],
  },
  {
    name: "Thinner",
    fields: [
      figure("thinner_max_pct", "Thinner, at most", "empty: never thinned"),
      choice("thinner_basis", "Per cent", "thinner_basis"),
      figure("thinner_density_kg_l", "Density of thinner"),
    ],
  },
  {
    name: "Clocks",
    fields: [
      figure("pot_life_s", "Pot life", "such as 4 h"),
      figure("pot_life_at_c", "Life stated at"),
      figure("induction_s", "Induction"),
      figure("pot_life_mass_g", "Pot life holds up to", "mass in one pot"),
      figure("recoat_min_s", "Recoat, earliest"),
      figure("recoat_max_s", "Recoat, latest"),
      figure("recoat_at_c", "Recoat stated at"),
      figure("open_surface_s", "Prepared surface, coated within"),
      figure("mask_off_s", "Masking off after", "at the temperature of recoat, as the next five"),
      figure("dust_dry_s", "Dust dry"),
      figure("touch_dry_s", "Dry to touch"),
      figure("handle_s", "May be handled"),
      figure("next_trade_s", "The next trade"),
      figure("service_s", "Into service"),
      figure("coats_most_count", "Coats of itself, at most", "one over the other, as one job"),
    ],
    rows: {
      list: "times",
      row: [
        figure("at_c", "And at", "a further temperature"),
        figure("pot_life_s", "Pot life"),
        figure("induction_s", "Induction"),
        figure("recoat_min_s", "Earliest recoat"),
        figure("recoat_max_s", "Latest recoat"),
      ],
    },
  },
  {
    name: "Film and conditions",
    fields: [
      figure("wet_min_um", "Wet film, least"),
      figure("wet_um", "Wet film, aim", "the middle when empty"),
      figure("wet_max_um", "Wet film, most"),
      figure("first_pass_min_um", "First pass, least", "judged by itself"),
      figure("first_pass_max_um", "First pass, most", "never over"),
      figure("pass_min_um", "Later passes, least"),
      figure("pass_max_um", "Later passes, most"),
      choice("film_proof", "The film is proved by", "film_proof"),
      figure("dry_min_um", "Dry film, least", "wet times solids when empty"),
      figure("dry_max_um", "Dry film, most"),
      figure("area_max_m2_l", "Covers at most", "area of a litre or gallon; thinner not counted"),
      figure("temp_min_c", "Coldest"),
      figure("temp_max_c", "Hottest"),
      figure("margin_min_dk", "Above dew point", "at least; empty: not asked"),
      figure("rh_max_pct", "Humidity, at most", "empty: not applicable"),
    ],
  },
  {
    name: "Additives",
    fields: [],
    rows: {
      list: "additives",
      row: [
        words("name", "Additive", "pearl, flattening paste …", 24),
        figure("dose_g_l", "Dose in sprayable paint", "by volume of A, B and thinner"),
        figure("dose_pct", "or on the base", "by weight"),
        figure("density_kg_l", "Its density", "empty: adds no volume"),
      ],
    },
  },
  {
    name: "Stirring and straining",
    fields: [
      choice("stir", "Stirred", "stir"),
      figure("stir_again_s", "Settles: stir again every", "empty: does not settle"),
      figure("strain_um", "Strain through", "mesh"),
      figure("gun_filter_um", "Gun filter", "mesh"),
      figure("drum_stir_min_s", "Drum: stir at least", "gel coat"),
      figure("drum_stir_max_s", "Drum: stir at most"),
      figure("drum_rest_s", "Drum: rest"),
      tick("no_gun_filter", "No filter in the gun: pearl and flake stay in it"),
    ],
  },
  {
    name: "Spraying, step by step",
    fields: [
      choice("stream", "Stream school", "stream_school"),
      choice("overlap", "Overlap", "overlap_school"),
      figure("catalyst_air_min_kpa", "Catalyst air, least"),
      figure("catalyst_air_max_kpa", "Catalyst air, most"),
      figure("viscosity_mpa_s", "Viscosity as sprayed"),
      figure("viscosity_at_c", "At"),
      figure("viscosity_warm_mpa_s", "Viscosity, warmer"),
      figure("viscosity_warm_at_c", "Warmer, at"),
      figure("flow_index", "Flow index", "power law, under 1 thins"),
    ],
    rows: {
      list: "steps",
      row: [
        words("name", "Step", "tack, wet, ground …", 24),
        figure("atomizing_kpa", "Atomizing"),
        figure("passes_count", "Passes"),
        figure("between_s", "Between passes", "at least"),
        figure("between_latest_s", "Edge lost after", "empty: not stated"),
        figure("wait_s", "Then wait", "before the next step"),
        choice("look", "And it looks", "ready_look"),
        choice("way", "Way", "way"),
        tick("crossed", "Every pass crosses the one before, cap turned a quarter"),
        figure("distance_min_mm", "Off the part, least"),
        figure("distance_max_mm", "Most"),
      ],
    },
  },
  {
    name: "The least rig",
    fields: [
      figure("tip_min_um", "Smallest nozzle", "for flake"),
      figure("least_hose_bore_mm", "Fluid hose, least bore"),
      figure("least_air_bore_mm", "Air hose, least bore"),
      figure("least_rating_kpa", "Vessel rated at least"),
      tick("least_two_regulators", "A regulator each for fluid and air"),
      tick("least_shut_off", "A shut-off in the air line"),
      words("least_cap", "Cap", "as stamped on it", 20),
      words("least_rig", "And else", "how it is fed", 300),
    ],
  },
  {
    name: "Surface, colour, price",
    fields: [
      words("colour", "Colour", "of the base", 40),
      words("undercoat_colour", "Undercoat", "where the finish is see-through", 40),
      figure("profile_min_um", "Profile, least", "blasted"),
      figure("profile_max_um", "Profile, most"),
      figure("mock_up_over_m2", "Mock-up over", "area"),
      words("flush_with", "Flush with", "solvent", 80),
      figure("price_minor_l", "Price", "by litre or gallon, for the cost of waste"),
      words("excludes", "Not for", "service the sheet excludes", 300),
    ],
  },
  {
    name: "Keeping",
    fields: [
      words("shelf_life_days", "Shelf life, days", "from the day it was made", 5),
      figure("store_min_c", "Store, coldest"),
      figure("store_max_c", "Store, warmest"),
      figure("hardener_store_max_c", "Hardener, warmest", "where it wants its own"),
      tick("certificate_needed", "A lot without its certificate is held"),
    ],
  },
];

/** A field by its name, wherever it stands. */
export const fieldOf = (name: string) => GROUPS.flatMap((g) => g.fields).find((f) => f.name === name);

/** The same inside a sentence. */
export const inWords = (name: string) => {
  const label = labelOf(name);
  return label.charAt(0).toLowerCase() + label.slice(1);
};

/** What a refusal calls its field. */
export const labelOf = (name: string) =>
  name === "name" ? "Name on the can" : (fieldOf(name)?.label ?? name.replaceAll("_", " "));
