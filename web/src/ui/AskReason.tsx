// Asks for a reason, in a dialog.
import { TextField } from "@mui/material";
import { useState } from "react";
import { FormDialog } from "./FormDialog";

export function AskReason(props: {
  title: string;
  text: string;
  action: string;
  /** Below the field. */
  hint: string;
  busy: boolean;
  error: string | undefined;
  submit: (reason: string) => void;
  close: () => void;
}) {
  const [reason, setReason] = useState("");
  return (
    <FormDialog
      title={props.title}
      action={props.action}
      name="confirm-reason"
      busy={props.busy}
      submit={() => props.submit(reason)}
      close={props.close}
    >
      <p>{props.text}</p>
      <TextField
        label="Reason"
        name="reason"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        autoFocus
        error={Boolean(props.error)}
        helperText={props.error ?? props.hint}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
      />
    </FormDialog>
  );
}
