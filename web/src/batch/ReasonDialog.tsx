// Asks for a reason and writes the entry that carries it.
import { TextField } from "@mui/material";
import { useState } from "react";
import type { BatchView } from "../api/client";
import { useWrite } from "../api/entry";
import { FormDialog } from "../ui/FormDialog";

export function ReasonDialog(props: {
  view: BatchView;
  title: string;
  text: string;
  action: string;
  kind: string;
  payload: (reason: string) => Record<string, unknown>;
  close: () => void;
}) {
  const { write, busy, refused } = useWrite(props.view.id);
  const [reason, setReason] = useState("");
  return (
    <FormDialog
      title={props.title}
      action={props.action}
      name="confirm-reason"
      busy={busy}
      submit={() => void write(props.kind, props.payload(reason)).then((ok) => ok && props.close())}
      close={props.close}
    >
      <p>{props.text}</p>
      <TextField
        label="Reason"
        name="reason"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        autoFocus
        error={Boolean(refused)}
        helperText={refused?.detail ?? "it stands on the card"}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
      />
    </FormDialog>
  );
}

/** A note: anything odd, in one's own words. */
export function NoteDialog({ view, close }: { view: BatchView; close: () => void }) {
  return (
    <ReasonDialog
      view={view}
      title="Note"
      text="Anything odd, said in your own words."
      action="Write"
      kind="note"
      payload={(text) => ({ text })}
      close={close}
    />
  );
}
