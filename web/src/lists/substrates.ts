// What is coated, in words.
import type { Schemas } from "../api/client";

export const SUBSTRATES: [Schemas["Substrate"], string][] = [
  ["blasted_steel", "blasted steel"],
  ["sanded_aluminium", "sanded aluminium"],
  ["gel_coat_mould", "gel-coat mould"],
  ["fibreglass", "fibreglass"],
  ["wood", "wood"],
  ["foam", "foam"],
  ["already_coated", "already coated"],
];
