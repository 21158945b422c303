// The form of a batch that is begun, and what it says.
import type { Schemas } from "../api/client";

export const EMPTY = {
  sheet: "",
  part: "",
  coat: "",
  zones: "",
  area_m2: "",
  film_um: "",
  film_is: "wet" as Schemas["FilmIs"],
  transfer_pct: "65",
  thinner_pct: "",
  substrate: "" as Schemas["Substrate"] | "",
  method: "" as Schemas["Method"] | "",
};
export type BeginForm = typeof EMPTY;

/** A zone as it is typed: its name, or its name and its area after a colon. */
function zone(text: string): Schemas["ZoneWantedTyped"] {
  const [name = "", area_m2] = text.split(":").map((part) => part.trim());
  return area_m2 ? { name, area_m2 } : name;
}

/** What the form asks for; null while something it hangs on is missing. */
export function wanted(
  form: BeginForm,
  takeoff: Schemas["TakeOffShapeTyped"][] | null,
): Schemas["WantedTyped"] | null {
  if (!form.sheet || !form.part || !form.coat || !form.film_um || !(form.area_m2 || takeoff)) return null;
  const zones = form.zones.split(",").filter((text) => text.trim() !== "");
  return {
    ...form,
    ...(takeoff ? { takeoff, area_m2: 0 } : {}),
    zones: zones.map(zone),
    thinner_pct: form.thinner_pct || null,
    substrate: form.substrate || null,
    method: form.method || null,
  };
}
