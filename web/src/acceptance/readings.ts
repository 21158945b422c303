// Readings as they are typed in one line: the figures, each read by the server as any other.

const UNIT = /[a-zµ]+$/i;

/** The figures of a line, in its order, parted by blanks or semicolons; a bare one is in the unit of the gauge's division. */
export function figures(text: string, division: string) {
  const unit = UNIT.exec(division.trim())?.[0] ?? "";
  return text
    .replace(/(\d)\s+(µm|um|mils?|thou)\b/gi, "$1$2")
    .split(/[\s;]+/)
    .filter((t) => t !== "")
    .map((t) => (UNIT.test(t) ? t : `${t} ${unit}`.trim()));
}
