// A line of words: a name, a code, a note. Its refusal stands at itself.
import { TextField } from "@mui/material";

export function Words(props: {
  name: string;
  label: string;
  value: string;
  set: (text: string) => void;
  /** Characters that fit. */
  most: number;
  wrong?: string | null | undefined;
  /** Below it; a space keeps its height. */
  hint?: string | undefined;
  /** Set in the type of figures: a code. */
  mono?: boolean;
  autoFocus?: boolean;
}) {
  return (
    <TextField
      name={props.name}
      label={props.label}
      value={props.value}
      onChange={(e) => props.set(e.target.value)}
      autoFocus={props.autoFocus ?? false}
      error={Boolean(props.wrong)}
      helperText={props.wrong ?? props.hint ?? " "}
      slotProps={{
        inputLabel: { shrink: true },
        htmlInput: { maxLength: props.most, className: props.mono ? "mono" : "" },
      }}
    />
  );
}
