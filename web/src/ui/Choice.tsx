// One of a few: the machine's own list, which works with gloves and keyboard alike.
import { TextField } from "@mui/material";

export type Option = readonly [value: string, word: string];
export type Options<V extends string> = readonly (readonly [value: V, word: string])[];

export function Choice<V extends string>(props: {
  name: string;
  label: string;
  value: V;
  set: (value: V) => void;
  options: Options<V>;
  error?: string | undefined;
  /** Below the field; a space keeps its height. */
  hint?: string;
  disabled?: boolean;
  className?: string;
}) {
  return (
    <TextField
      select
      label={props.label}
      name={props.name}
      value={props.value}
      disabled={props.disabled ?? false}
      className={props.className ?? ""}
      onChange={(e) => props.set(e.target.value as V)}
      error={Boolean(props.error)}
      helperText={props.error ?? props.hint}
      slotProps={{ inputLabel: { shrink: true }, select: { native: true } }}
    >
      {props.options.map(([value, word]) => (
        <option key={value} value={value}>
          {word}
        </option>
      ))}
    </TextField>
  );
}
