// A quantity field: keeps the text as typed, says below what was understood, shows a refusal at itself.
// On touch it opens a keypad of our own with the units of its kind.
import { TextField } from "@mui/material";
import { useRef, useState } from "react";
import { createPortal } from "react-dom";
import type { Shown } from "../api/client";

const CHIPS: [string, string[]][] = [
  ["_mpa_s", ["mPa·s", "cP", "Pa·s"]],
  ["_watch_s", ["s", "min"]],
  ["_cup_s", ["s"]],
  ["_g_l", ["g/L", "oz/gal", "lb/gal"]],
  ["_m_s", ["in/s", "m/s", "ft/min"]],
  ["_count", []],
  ["_nl_min", ["scfm", "L/min"]],
  ["_ml_min", ["mL/min", "L/min", "fl oz/min"]],
  ["_kg_l", ["kg/L", "g/mL", "lb/gal"]],
  ["_kpa", ["psi", "bar", "kPa"]],
  ["_pct", ["%"]],
  ["_deg", ["°"]],
  ["_ml", ["mL", "L", "fl oz"]],
  ["_mm", ["in", "mm", "ft"]],
  ["_um", ["mil", "µm", "mm"]],
  ["_m2", ["m²", "ft²", "cm²"]],
  ["_dk", ["°C", "°F"]],
  ["_c", ["°C", "°F"]],
  ["_g", ["g", "kg", "oz"]],
  ["_s", ["min", "h", "s"]],
  ["ratio", [":"]],
];

type Props = {
  name: string;
  label: string;
  value: string;
  onChange: (text: string) => void;
  understood?: Record<string, Shown>;
  error?: string;
  hint?: string;
  autoFocus?: boolean;
  disabled?: boolean;
};

const coarse = () => window.matchMedia("(pointer: coarse)").matches;

export function Field({ name, label, value, onChange, understood, error, hint, autoFocus, disabled }: Props) {
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
        helperText={error ?? (shown ? `= ${shown}` : (hint ?? " "))}
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
  const chips = CHIPS.find(([suffix]) => name.endsWith(suffix))?.[1] ?? [];
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
