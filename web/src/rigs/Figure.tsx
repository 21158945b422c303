// A figure of a rig or a piece, asked for as core says it is.
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Refusal, type Schemas } from "../api/client";
import { at, useDebounced } from "../api/entry";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Words } from "../ui/Words";
import { offered, useWords } from "../api/forms";

export type Text = Record<string, string>;
type Props = {
  asks: Schemas["Asks"];
  form: Text;
  set: (name: string, text: string) => void;
  refusals: Refusal[] | null | undefined;
};

export function Figure({ asks, form, set, refusals }: Props) {
  const words = useWords();
  const { field, label, hint } = asks;
  const value = form[field] ?? "";
  const wrong = at(field, refusals);
  switch (asks.as_a) {
    case "quantity":
      return (
        <Field
          name={field}
          label={label}
          value={value}
          onChange={(t) => set(field, t)}
          {...(hint ? { hint } : {})}
          {...(wrong ? { error: wrong } : {})}
        />
      );
    case "tick":
      return (
        <span>
          <Check
            name={field}
            word={label}
            on={value === "true"}
            set={(on) => set(field, on ? "true" : "false")}
          />
          {wrong && <span className="refusal">{wrong}</span>}
        </span>
      );
    case "class":
    case "ladder":
      return (
        <Choice
          name={field}
          label={label}
          value={value}
          set={(t) => set(field, t)}
          options={asks.as_a === "class" ? offered(words.gun_class) : offered(words.ladder_school)}
          hint=" "
        />
      );
    default:
      return field === "tip_code" ? (
        <TipCode value={value} set={(t) => set(field, t)} wrong={wrong} />
      ) : (
        <Words
          name={field}
          label={label}
          value={value}
          set={(text) => set(field, text)}
          most={80}
          wrong={wrong}
          hint={hint || " "}
        />
      );
  }
}

/** What a code says, read while it is typed. */
export function useTip(typed: string) {
  const code = useDebounced(typed.trim());
  return useQuery({
    queryKey: ["tip", code],
    queryFn: () => ask(api.GET("/api/v1/compute/tips/{code}", { params: { path: { code } } })),
    enabled: code !== "",
    retry: false,
    gcTime: 0,
  });
}

export const tipWords = (tip: Schemas["TipView"]) =>
  `${tip.angle.text}, fan ${tip.nominal_fan.text} (${tip.geometric_fan.text} by geometry), hole ${tip.hole.text}`;

function TipCode(props: { value: string; set: (text: string) => void; wrong: string | null | undefined }) {
  const tip = useTip(props.value).data;
  return (
    <Words
      name="tip_code"
      label="Tip fitted"
      value={props.value}
      set={props.set}
      most={12}
      wrong={props.wrong}
      hint={tip && props.value.trim() ? tipWords(tip) : "as 517"}
    />
  );
}

/** A form's texts as a body: ticks are truths, what is empty is left out. */
export function bodyOf(form: Text, asks: Schemas["Asks"][]) {
  const ticks = new Set(asks.filter((a) => a.as_a === "tick").map((a) => a.field));
  return Object.fromEntries(
    Object.entries(form)
      .filter(([, v]) => v.trim() !== "")
      .map(([k, v]) => [k, ticks.has(k) ? v === "true" : v]),
  );
}

/** The texts of a thing that is there, to edit. */
export function textsOf(thing: Record<string, unknown>, texts: Text, asks: Schemas["Asks"][]): Text {
  return Object.fromEntries(
    asks.map(({ field }) => {
      const value = thing[field];
      const text =
        typeof value === "string" ? value : typeof value === "boolean" ? (value ? "true" : "false") : "";
      return [field, texts[field] ?? text];
    }),
  );
}
