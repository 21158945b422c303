// What is left is thrown away: why, and how much. It stays in the record with what it cost.
import { TextField } from "@mui/material";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { EntryField } from "../../ui/EntryField";
import { FormDialog } from "../../ui/FormDialog";

export function Discard({
  view,
  pot,
  close,
}: StationProps & { pot: { id: string; no: number }; close: () => void }) {
  const entry = useEntryForm(
    view.id,
    "close_charge",
    { reason: "", waste_ml: "", waste_g: "" },
    {
      says: (f) => ({
        charge: pot.id,
        how: "discarded",
        reason: f.reason,
        ...(f.waste_ml.trim() ? { waste_ml: f.waste_ml } : {}),
        ...(f.waste_g.trim() ? { waste_g: f.waste_g } : {}),
      }),
    },
  );
  return (
    <FormDialog
      title={`Discard what is left of pot ${pot.no}`}
      action="Discard"
      name="confirm-reason"
      busy={entry.busy}
      submit={() => void entry.take().then((ok) => ok && close())}
      close={close}
    >
      <p>
        It stays in the record with its reason. Mixed paint is never returned to a can; a pot that heats goes
        outside, unsealed.
      </p>
      <TextField
        label="Reason"
        name="reason"
        value={entry.form.reason}
        onChange={(e) => entry.put({ reason: e.target.value })}
        autoFocus
        error={entry.form.reason !== "" && Boolean(entry.error("reason"))}
        helperText={(entry.form.reason !== "" && entry.error("reason")) || "it stands on the card"}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
      />
      <EntryField of={entry} name="waste_ml" label="How much" hint="all that is left, if empty" />
      <EntryField
        of={entry}
        name="waste_g"
        label="Or as weighed"
        hint="without its can; it stands in the waste of the day"
      />
      {entry.stray && <p className="refusal">{entry.stray}</p>}
    </FormDialog>
  );
}
