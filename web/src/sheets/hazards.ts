// Hazards a sheet may name, in words.
export const HAZARDS: [string, string][] = [
  ["isocyanate", "Isocyanate hardener"],
  ["peroxide", "Peroxide catalyst"],
  ["solvent", "Flammable solvent"],
  ["styrene", "Styrene vapour"],
  ["pressure_vessel", "Pot under pressure"],
  ["high_pressure_fluid", "High-pressure fluid"],
  ["chromate", "Chromate"],
  ["exotherm", "Mix that heats"],
];
