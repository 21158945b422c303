// A sheet as the texts its owner types. Lists lie flat in the form: `times[0].pot_life_s`.
import type { Schemas } from "../api/client";

export type Form = Record<string, string | boolean | string[]>;
export type Row = Schemas["SheetRow"];
type Most = Schemas["Forms"]["most"];

export const BLANK: Form = {
  name: "",
  label: "",
  charge: "pot",
  has_hardener: true,
  basis: "",
  thinner_basis: "",
  stream: "industrial",
  film_proof: "comb",
  hazards: [],
  accepted_by: [],
  look_stages: [],
};
/** Fields of each list; how many rows it may have is said by core. */
export const LISTS = {
  additives: { fields: ["name", "dose_g_l", "dose_pct", "density_kg_l"] },
  times: { fields: ["at_c", "pot_life_s", "induction_s", "recoat_min_s", "recoat_max_s"] },
  steps: {
    fields: [
      "name",
      "atomizing_kpa",
      "passes_count",
      "wait_s",
      "between_s",
      "between_latest_s",
      "look",
      "way",
      "crossed",
      "distance_min_mm",
      "distance_max_mm",
    ],
  },
} as const satisfies {
  [L in "additives" | "times" | "steps"]: { fields: (keyof NonNullable<Schemas["SheetTyped"][L]>[number])[] };
};
export type ListName = keyof typeof LISTS;
const NAMES = Object.keys(LISTS) as ListName[];
export const slot = (list: ListName, i: number, field: string) => `${list}[${i}].${field}`;

/** A stored sheet as the texts its owner would type. */
export function asForm(row: Row): Form {
  // What a new sheet begins with is not what an older one says: its proof, left open, is not the comb.
  const form: Form = { ...BLANK, film_proof: "" };
  for (const [key, value] of Object.entries(row.sheet)) {
    if (value === null || value === undefined || NAMES.includes(key as ListName)) continue;
    // As it was typed, or a text that reads back as the very figure: opened and saved, nothing changes.
    form[key] = row.texts[key] ?? (typeof value === "number" ? String(value) : (value as string));
  }
  for (const list of NAMES) {
    (row.sheet[list] ?? []).forEach((entry, i) => {
      for (const field of LISTS[list].fields) {
        const value = (entry as Record<string, unknown>)[field];
        if (typeof value === "boolean") form[slot(list, i, field)] = value;
        else if (value !== null && value !== undefined)
          form[slot(list, i, field)] = row.texts[slot(list, i, field)] ?? String(value);
      }
    });
  }
  return form;
}

/** A form of this kind: what it chooses for itself, over what stands there; what was typed stays. */
export function byKind(form: Form, kind: Schemas["SheetKind"]): Form {
  return { ...form, ...kind.fills, has_hardener: kind.has_hardener };
}

/** A new sheet much like another: everything but its name. */
export function copied(row: Row): Form {
  return { ...asForm(row), name: "", label: "" };
}

const OF_PERCENT = ["hardener_pct", "band_low_pct", "band_high_pct"];
const OF_A_POT = ["pot_life_s", "pot_life_at_c", "induction_s", "pot_life_mass_g"];
const OF_TWO = [
  "hardener_density_kg_l",
  "basis",
  "tolerance_pct",
  "kit_base_g",
  "kit_hardener_g",
  "kit_base_ml",
  "kit_hardener_ml",
  "kit_to_line",
  "mixed_by_cup",
  "bond_test",
];

/** Whether a form of this shape has the field: a ratio has no band, one can has no hardener, at the gun there is no pot. */
export function applies(form: Form, name: string): boolean {
  const basis = typeof form.basis === "string" ? form.basis : "";
  const percent = basis.startsWith("percent");
  const hardened = form.has_hardener === true;
  if (name === "ratio") return hardened && !percent && basis !== "by_kit";
  if (OF_PERCENT.includes(name)) return hardened && percent;
  if (name === "bond_test") return hardened && form.charge === "at_gun";
  if (OF_A_POT.includes(name)) return hardened && form.charge !== "at_gun";
  return hardened || !OF_TWO.includes(name);
}

/** What core clears or refuses of a form of this shape. A field that is only hidden is sent: nothing a sheet says is dropped unseen. */
function leftOver(form: Form, name: string): boolean {
  if (OF_PERCENT.includes(name)) return !applies(form, name);
  if (name === "pot_life_mass_g") return false;
  return form.has_hardener !== true && (OF_TWO.includes(name) || OF_A_POT.includes(name));
}

/** Rows of a list that hold something, and one free one after them. */
export function rowsOf(form: Form, list: ListName, most: Most) {
  const { fields } = LISTS[list];
  const all = Array.from({ length: most[list] }, (_, i) => i);
  const filled = all.filter((i) => fields.some((f) => form[slot(list, i, f)]));
  return all.slice(0, Math.min(most[list], (filled.at(-1) ?? -1) + 2));
}

/** Empty texts are fields not given; flat rows become their lists. */
export function wire(form: Form, most: Most): Schemas["SheetTyped"] {
  // What another kind left behind stays in the form, in case its owner goes back, and is not sent.
  const given = Object.entries(form).filter(
    ([key, v]) => v !== "" && !key.includes("[") && !leftOver(form, key),
  );
  const lists = NAMES.map((list) => {
    const rows = rowsOf(form, list, most)
      .map((i) =>
        LISTS[list].fields
          .map((f) => [f, form[slot(list, i, f)] ?? ""] as const)
          .filter(([, v]) => v !== "" && v !== false),
      )
      .filter((fields) => fields.length > 0)
      .map((fields) =>
        list === "times" ? Object.fromEntries(fields) : { name: "", ...Object.fromEntries(fields) },
      );
    return [list, rows] as const;
  });
  const out: Record<string, unknown> = { ...Object.fromEntries(given), ...Object.fromEntries(lists) };
  const days = out.shelf_life_days;
  if (typeof days === "string" && /^\d+$/.test(days.trim())) out.shelf_life_days = Number(days);
  // The form asks for every field of the sheet by its own name; what is missing the server names.
  return out as Schemas["SheetTyped"];
}
