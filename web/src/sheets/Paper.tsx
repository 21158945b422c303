// The sheet on paper: every field that is filled, by its group; on the screen it is the form.
import type { Shown } from "../api/client";
import { called, useWords } from "../api/forms";
import { GROUPS, type FieldOf } from "./fields";
import { asForm, slot, type Row } from "./form";

export function Paper({ row, shown }: { row: Row; shown: Record<string, Shown> | undefined }) {
  const known = useWords();
  const form = asForm(row);
  const said = (of: FieldOf, name: string) => {
    const value = form[name];
    if (value === undefined || value === "" || value === false) return null;
    if (of.as === "tick") return "yes";
    if (of.as === "choice") return called(known[of.of] as { value: string; word: string }[], String(value));
    return row.shown[name]?.text ?? shown?.[name]?.text ?? String(value);
  };
  const hazards = row.sheet.hazards ?? [];
  return (
    <section className="paper print-only" aria-hidden>
      <h1>{row.sheet.name}</h1>
      <p>
        Version {row.edition}, written by {row.written_by}. {row.ratio}. The maker’s own data sheet rules.
      </p>
      {GROUPS.map((g) => {
        const lines = g.fields.map((f) => [f.label, said(f, f.name)] as const).filter(([, v]) => v !== null);
        const rows = g.rows
          ? Array.from({ length: 5 }, (_, i) =>
              (g.rows?.row ?? [])
                .map((f) => {
                  const v = said(f, slot(g.rows?.list ?? "times", i, f.name));
                  return v === null ? "" : `${f.label} ${v}`;
                })
                .filter(Boolean)
                .join(", "),
            ).filter(Boolean)
          : [];
        if (lines.length === 0 && rows.length === 0) return null;
        return (
          <div key={g.name}>
            <h2>{g.name}</h2>
            <dl>
              {lines.map(([label, value]) => (
                <div key={label}>
                  <dt>{label}</dt>
                  <dd>{value}</dd>
                </div>
              ))}
            </dl>
            {rows.map((r) => (
              <p key={r}>{r}</p>
            ))}
          </div>
        );
      })}
      <h2>Hazards</h2>
      <p>{hazards.length === 0 ? "none ticked" : hazards.map((h) => called(known.hazard, h)).join(", ")}</p>
    </section>
  );
}
