// How a coat is put on, in words.
import type { Schemas } from "../api/client";

export const METHODS: [Schemas["Method"], string][] = [
  ["pot", "pressure pot"],
  ["gun_cup", "gun cup"],
  ["airless", "airless"],
  ["gel_coat_machine", "gel-coat machine"],
  ["twin_feed", "twin feed"],
  ["brush", "brush"],
  ["roller", "roller"],
];
