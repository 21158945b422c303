// Asks for a reason and writes the entry that carries it.
import { Button, Dialog, TextField } from "@mui/material";
import { useState } from "react";
import type { BatchView } from "../api/client";
import { useWrite } from "../api/entry";

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
    <Dialog open onClose={props.close} aria-labelledby="reason-title" fullWidth maxWidth="sm">
      <form
        style={{ padding: 24, display: "grid", gap: 14 }}
        onSubmit={(e) => {
          e.preventDefault();
          void write(props.kind, props.payload(reason)).then((ok) => ok && props.close());
        }}
      >
        <h2 id="reason-title">{props.title}</h2>
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
        <div className="actions">
          <Button type="submit" variant="contained" disabled={busy} name="confirm-reason">
            {props.action}
          </Button>
          <Button variant="outlined" onClick={props.close}>
            Leave it
          </Button>
        </div>
      </form>
    </Dialog>
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
