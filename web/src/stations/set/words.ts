// What is chosen from at Set.
import type { Option } from "../../ui/Choice";

export const READ_AT: Option[] = [
  ["", "not said"],
  ["gun", "at the gun"],
  ["cap", "at the cap"],
  ["hose", "at the hose"],
  ["wall", "at the wall"],
];
export const HOW: Option[] = [
  ["", "not said"],
  ["pulled", "trigger pulled"],
  ["half", "half pulled"],
  ["air_stage", "air stage, fluid shut"],
  ["closed", "trigger closed"],
];
export const STEPS: Option[] = [
  ["", "the whole coat"],
  ["tack", "tack"],
  ["wet", "wet"],
  ["ground", "ground"],
  ["pattern", "pattern"],
  ["cross", "cross"],
];
export const CAP: Option[] = [
  ["", "not turned yet"],
  ["turned", "turned with the cap"],
  ["stayed", "stayed where it was"],
];
