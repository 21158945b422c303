// Labels beside a drawing keep a line of their own even where what they name lies close together.

/** Each row with the height of its label, from the lowest up. */
export function spread<T>(rows: readonly T[], y: (row: T) => number): (T & { label_y: number })[] {
  const out: (T & { label_y: number })[] = [];
  for (const row of rows) {
    const under = out[out.length - 1]?.label_y ?? Infinity;
    out.push({ ...row, label_y: Math.min(y(row) + 5, under - 19) });
  }
  return out;
}
