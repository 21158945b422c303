// The kinds of rig and classes of gun, as they are chosen.
import type { Schemas } from "../api/client";
import type { Option } from "../ui/Choice";

const KIND: Record<Schemas["RigKind"], string> = {
  pot: "pressure pot",
  twin_pots: "twin pots",
  pump: "pump",
  airless: "airless pump",
  gel_coat_machine: "gel-coat machine",
  gun_cup: "gun cup",
};
const CLASS: Record<Schemas["GunClass"], string> = {
  conventional: "conventional",
  hvlp: "high volume, low pressure",
  reduced_pressure: "reduced pressure",
  lvlp: "low volume, low pressure",
  air_assisted: "airless with air assist",
  airless: "airless",
  twin_feed: "twin feed, mixing outside",
  filler: "filler",
  texture: "texture",
  release_film: "release film",
};
const CUP: Record<string, string> = {
  ford2: "Ford 2",
  ford3: "Ford 3",
  ford4: "Ford 4",
  zahn1: "Zahn 1",
  zahn2: "Zahn 2",
  zahn3: "Zahn 3",
  zahn4: "Zahn 4",
  zahn5: "Zahn 5",
  iso3: "ISO 3 mm",
  iso4: "ISO 4 mm",
  iso5: "ISO 5 mm",
  iso6: "ISO 6 mm",
};
const LADDER: Record<Schemas["LadderSchool"], string> = {
  fives: "in small steps from the second rung",
  tens: "in even steps",
  hundreds: "in hundreds of psi, airless with air assist",
};
export const KINDS: Option[] = Object.entries(KIND);
export const CLASSES: Option[] = Object.entries(CLASS);
export const CUPS: Option[] = Object.entries(CUP);
export const LADDERS: Option[] = Object.entries(LADDER);
