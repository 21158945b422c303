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
  transfer_pct: "",
  thinner_pct: "",
  substrate: "" as Schemas["Substrate"] | "",
  method: "" as Schemas["Method"] | "",
  coat_count: "",
  piece_count: "",
  side_count: "",
  side_m2: "",
};
export type BeginForm = typeof EMPTY;

/** What a person typed, over what is proposed, over what is empty. */
export function filledBy(typed: Partial<BeginForm>, fields: Schemas["Proposed"]["fields"]): BeginForm {
  const form: Record<string, string> = { ...EMPTY };
  for (const [name, filled] of Object.entries(fields)) if (name in EMPTY) form[name] = filled.text;
  return { ...(form as BeginForm), ...typed };
}

/** The area comes from one side of one piece. */
const bySides = (form: BeginForm) => form.side_m2.trim() !== "" && form.piece_count.trim() !== "";

/** What is missing before the need can be reckoned, in the words of the form. */
export function missing(form: BeginForm, byShapes: boolean): string[] {
  const asked: [boolean, string][] = [
    [form.sheet === "", "the sheet"],
    [form.part.trim() === "", "the part"],
    [form.coat.trim() === "", "its coat"],
    [form.area_m2.trim() === "" && !byShapes && !bySides(form), "the area"],
    [form.film_um.trim() === "", "the film"],
    [form.sheet !== "" && form.transfer_pct.trim() === "", "the transfer efficiency"],
  ];
  return asked.filter(([lacks]) => lacks).map(([, word]) => word);
}

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
  if (missing(form, takeoff !== null).length > 0) return null;
  const zones = form.zones.split(",").filter((text) => text.trim() !== "");
  return {
    ...form,
    ...(takeoff ? { takeoff, area_m2: 0 } : bySides(form) ? { area_m2: 0 } : {}),
    zones: zones.map(zone),
    thinner_pct: form.thinner_pct || null,
    substrate: form.substrate || null,
    method: form.method || null,
    coat_count: form.coat_count || null,
    piece_count: form.piece_count || null,
    side_count: form.side_count || null,
    side_m2: form.side_m2 || null,
  };
}

/** What another page knows of it already: a part and its coat, or all of a repair. */
export function begunWith(
  asked: Partial<Record<"part" | "coat" | "sheet" | "zones" | "area" | "repairs", string>>,
) {
  const typed: Partial<BeginForm> = { part: asked.part ?? "", coat: asked.coat ?? "" };
  if (asked.sheet) typed.sheet = asked.sheet;
  if (asked.zones) typed.zones = asked.zones;
  if (asked.area) typed.area_m2 = asked.area;
  // A repair goes over what is on already.
  if (asked.repairs) typed.substrate = "already_coated";
  return typed;
}
