// Take-off: the area from simple shapes, each with its uncertainty.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../../api/client";
import { at, useDebounced } from "../../api/entry";
import { useForms } from "../../api/forms";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Words } from "../../ui/Words";
import { WorkingSheet } from "../../ui/WorkingSheet";

export type PieceForm = { key: string; is: string } & Record<string, string>;

export const newPiece = (): PieceForm => ({
  key: v7(),
  is: "plate",
  side_count: "1",
  piece_count: "1",
  off_pct: "5",
});

/** The shapes as they are sent; `null` until every measure of every one is given. */
export function pieces(forms: PieceForm[], known: Schemas["ShapeAsked"][]) {
  const all = forms.map((f) => {
    const names = known.find((k) => k.is === f.is)?.fields.map((field) => field.name) ?? [];
    if (names.some((n) => !f[n]?.trim()) || !f.piece_count?.trim()) return null;
    return {
      // Which measures a shape has is said by the server with it.
      shape: { is: f.is, ...Object.fromEntries(names.map((n) => [n, f[n]])) } as Schemas["ShapeTyped"],
      piece_count: f.piece_count,
      off_pct: f.off_pct?.trim() || 0,
      corner_pct: f.corner_pct?.trim() || 0,
      ...(f.zone?.trim() ? { zone: f.zone } : {}),
    };
  });
  const whole = all.filter((one) => one !== null);
  return whole.length > 0 && whole.length === all.length ? whole : null;
}

export function TakeOff({ forms, set }: { forms: PieceForm[]; set: (forms: PieceForm[]) => void }) {
  const known = useForms().shapes;
  const asked = pieces(forms, known);
  const text = useDebounced(asked ? JSON.stringify(asked) : "");
  const taken = useQuery({
    queryKey: ["takeoff", text],
    queryFn: () =>
      ask(
        api.POST("/api/v1/compute/mixing/takeoff", {
          body: { takeoff: JSON.parse(text) as Schemas["TakeOffShapeTyped"][] },
        }),
      ),
    enabled: text !== "",
    retry: false,
    gcTime: 0,
    placeholderData: (was) => was,
  });
  const refusals = taken.error instanceof Refused ? taken.error.problem.fields : [];
  const change = (i: number, more: Record<string, string>) =>
    set(forms.map((f, j) => (i === j ? ({ ...f, ...more } as PieceForm) : f)));
  const sum: Schemas["TakenOff"] | undefined = taken.error ? undefined : taken.data;
  const field = (i: number, name: string, label: string, path: string) => (
    <Field
      name={`takeoff-${i}-${name}`}
      label={label}
      value={forms[i]?.[name] ?? ""}
      onChange={(v) => change(i, { [name]: v })}
      {...(at(`takeoff[${i}].${path}`, refusals)
        ? { error: at(`takeoff[${i}].${path}`, refusals) ?? "" }
        : {})}
    />
  );
  return (
    <div style={{ display: "grid", gap: 8 }}>
      {forms.map((f, i) => (
        <fieldset key={f.key} className="coat-row">
          <legend>{i + 1}</legend>
          <div className="fields">
            <Choice
              name={`takeoff-${i}-is`}
              label="Shape"
              value={f.is}
              set={(is) => change(i, { is })}
              hint=" "
              options={known.map((k): [string, string] => [k.is, k.word])}
            />
            {(known.find((k) => k.is === f.is)?.fields ?? []).map(({ name, label }) => (
              <span key={name} style={{ display: "contents" }}>
                {field(i, name, label, `shape.${name}`)}
              </span>
            ))}
            {field(i, "piece_count", "How many", "piece_count")}
            {field(i, "off_pct", "May be off by", "off_pct")}
            {field(i, "corner_pct", "For corners", "corner_pct")}
            <Words
              name={`takeoff-${i}-zone`}
              label="Zone"
              value={f.zone ?? ""}
              set={(zone) => change(i, { zone })}
              most={14}
              wrong={at(`takeoff[${i}].zone`, refusals)}
              hint="drawn as this shape"
            />
          </div>
          <button type="button" className="link" onClick={() => set(forms.filter((_, j) => j !== i))}>
            Take it out
          </button>
        </fieldset>
      ))}
      <div className="actions">
        <Button variant="outlined" name="add-piece" onClick={() => set([...forms, newPiece()])}>
          {forms.length === 0 ? "Take it off from shapes" : "Another shape"}
        </Button>
        {sum && asked && (
          <span>
            <b className="mono">{sum.area.text}</b>
            {sum.from.text !== sum.to.text && (
              <span className="slate">
                {" "}
                between {sum.from.text} and {sum.to.text}
              </span>
            )}
          </span>
        )}
      </div>
      {sum && asked && <WorkingSheet working={sum.working} last={1} />}
    </div>
  );
}
