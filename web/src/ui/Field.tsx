// A quantity field: keeps the text as typed, says below what was understood, shows a refusal at itself.
// On touch it opens a keypad of our own with the units of its kind.
import { TextField } from "@mui/material";
import { useRef, useState } from "react";
import { createPortal } from "react-dom";
import type { Shown } from "../api/client";
import { useForms } from "../api/forms";

type Props = {
  name: string;
  label: string;
  value: string;
  onChange: (text: string) => void;
  understood?: Record<string, Shown> | undefined;
  error?: string | undefined;
  hint?: string | undefined;
  /** Where what stands in it comes from, while nobody typed over it. */
  from?: string | undefined;
  autoFocus?: boolean;
  disabled?: boolean;
};

const coarse = () => window.matchMedia("(pointer: coarse)").matches;

export function Field(props: Props) {
  const { name, label, value, onChange, understood, error, hint, from, autoFocus, disabled } = props;
  const [pad, setPad] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const shown = value.trim() !== "" ? understood?.[name]?.text : undefined;
  return (
    <>
      <TextField
        id={`field-${name}`}
        name={name}
        label={label}
        value={value}
        disabled={disabled}
        onChange={(e) => onChange(e.target.value)}
        error={Boolean(error)}
        helperText={error ?? from ?? (shown ? `= ${shown}` : (hint ?? " "))}
        autoComplete="off"
        autoFocus={autoFocus && !coarse()}
        inputRef={input}
        onFocus={() => coarse() && setPad(true)}
        onBlur={() => setPad(false)}
        slotProps={{
          htmlInput: {
            inputMode: coarse() ? "none" : "decimal",
            maxLength: 60,
            className: "mono",
          },
          inputLabel: { shrink: true },
        }}
      />
      {pad && <Keypad name={name} value={value} onChange={onChange} close={() => input.current?.blur()} />}
    </>
  );
}

function Keypad({
  name,
  value,
  onChange,
  close,
}: {
  name: string;
  value: string;
  onChange: (v: string) => void;
  close: () => void;
}) {
  const chips = useForms().chips.find((c) => name.endsWith(c.suffix))?.units ?? [];
  const key = (label: string, act: () => void, aria?: string) => (
    <button
      key={label}
      type="button"
      aria-label={aria ?? label}
      // Keeps the focus in the field.
      onPointerDown={(e) => {
        e.preventDefault();
        act();
      }}
    >
      {label}
    </button>
  );
  const add = (text: string) => () => onChange(value + text);
  return createPortal(
    <div className="keypad" role="group" aria-label="Keypad">
      {["1", "2", "3", "4", "5", "6", "7", "8", "9", "0", ".", "/"].map((d) => key(d, add(d)))}
      {chips.map((u) => key(u, add(u === ":" ? ":" : ` ${u}`)))}
      {key("⌫", () => onChange(value.slice(0, -1)), "delete")}
      {key("Done", close)}
    </div>,
    document.body,
  );
}
