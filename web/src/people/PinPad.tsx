// The PIN as on a phone: 0 under 8. Large enough for gloves.
import { TextField } from "@mui/material";

const KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9"];
const SHORTEST = 4;
const LONGEST = 12;

export function PinPad(props: {
  label: string;
  pin: string;
  set: (pin: string) => void;
  wrong?: string | undefined;
}) {
  const { label, pin, set, wrong } = props;
  const add = (digit: string) => () => set((pin + digit).slice(0, LONGEST));
  const key = (digit: string) => (
    <button key={digit} type="button" onClick={add(digit)}>
      {digit}
    </button>
  );
  return (
    <>
      <TextField
        label={label}
        type="password"
        value={pin}
        name="pin"
        onChange={(e) => set(e.target.value.replace(/\D/g, ""))}
        error={Boolean(wrong)}
        helperText={wrong ?? (pin.length < SHORTEST ? `${SHORTEST} digits or more` : " ")}
        autoFocus
        id="pin"
        autoComplete="off"
        slotProps={{ htmlInput: { inputMode: "none", maxLength: LONGEST }, inputLabel: { shrink: true } }}
      />
      <div className="pin" role="group" aria-label="PIN keypad">
        {KEYS.map(key)}
        <button type="button" aria-label="delete" onClick={() => set(pin.slice(0, -1))}>
          ⌫
        </button>
        {key("0")}
        <button
          type="submit"
          name="sign-in"
          className="go"
          disabled={pin.length < SHORTEST}
          aria-describedby="pin-helper-text"
        >
          Sign in
        </button>
      </div>
    </>
  );
}
