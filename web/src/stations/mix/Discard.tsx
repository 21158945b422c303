// What is left is thrown away: why, and how much. It stays in the record with what it cost.
import { TextField } from "@mui/material";
import { useState } from "react";
import { at, useDry, useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { Field } from "../../ui/Field";
import { FormDialog } from "../../ui/FormDialog";

export function Discard({
  view,
  pot,
  close,
}: StationProps & { pot: { id: string; no: number }; close: () => void }) {
  const { write, busy, refused } = useWrite(view.id);
  const [reason, setReason] = useState("");
  const [waste, setWaste] = useState("");
  const payload = {
    charge: pot.id,
    how: "discarded",
    reason,
    ...(waste.trim() ? { waste_ml: waste } : {}),
  };
  const dry = useDry(view.id, "close_charge", waste.trim() && reason.trim() ? payload : null);
  const refusals = refused?.fields ?? dry?.refusals;
  const wrong = at("waste_ml", refusals);
  return (
    <FormDialog
      title={`Discard what is left of pot ${pot.no}`}
      action="Discard"
      name="confirm-reason"
      busy={busy}
      submit={() => void write("close_charge", payload).then((ok) => ok && close())}
      close={close}
    >
      <p>
        It stays in the record with its reason. Mixed paint is never returned to a can; a pot that heats goes
        outside, unsealed.
      </p>
      <TextField
        label="Reason"
        name="reason"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        autoFocus
        error={Boolean(at("reason", refused?.fields))}
        helperText={at("reason", refused?.fields) ?? "it stands on the card"}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
      />
      <Field
        name="waste_ml"
        label="How much"
        value={waste}
        onChange={setWaste}
        understood={dry?.understood ?? {}}
        hint="all that is left, if empty"
        {...(wrong ? { error: wrong } : {})}
      />
      {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
    </FormDialog>
  );
}
