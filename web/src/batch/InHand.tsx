// Who is on the batch: taken in hand, or handed to somebody.
import { Button, Dialog } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { BatchView } from "../api/client";
import { useWrite } from "../api/entry";
import { meQuery, peopleQuery } from "../api/queries";

export function InHand({ view }: { view: BatchView }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        variant="text"
        name="in-hand"
        sx={{ px: 0, color: "text.primary", justifyContent: "flex-start" }}
        aria-haspopup="dialog"
        onClick={() => setOpen(true)}
      >
        <span className="ellipsis">In hand: {view.mine ? "you" : (view.on_it ?? "nobody")}</span>
      </Button>
      {open && <Hand view={view} close={() => setOpen(false)} />}
    </>
  );
}

function Hand({ view, close }: { view: BatchView; close: () => void }) {
  const me = useQuery(meQuery).data;
  const names = useQuery(peopleQuery).data ?? [];
  const { write, busy, refused } = useWrite(view.id);
  const to = (person: string) => void write("in_hand", { person }).then((ok) => ok && close());
  return (
    <Dialog open onClose={close} aria-labelledby="in-hand-title">
      <div style={{ padding: 24, display: "grid", gap: 14, minWidth: "min(320px, 100%)" }}>
        <h2 id="in-hand-title">Who is on it?</h2>
        <p className="slate">
          {view.title}: now {view.on_it ?? "nobody"}. It stands in the log, and nothing of the work changes.
        </p>
        {me && (
          <Button variant="contained" name="take-in-hand" disabled={busy} onClick={() => to(me.id)}>
            I take it
          </Button>
        )}
        <div className="actions">
          {names
            .filter((n) => n.id !== me?.id)
            .map((n) => (
              <Button
                key={n.id}
                variant="outlined"
                name={`hand-to-${n.name}`}
                disabled={busy}
                onClick={() => to(n.id)}
              >
                Hand to {n.name}
              </Button>
            ))}
        </div>
        {refused && <p className="refusal">{refused.detail}</p>}
        <Button variant="text" onClick={close}>
          Leave it
        </Button>
      </div>
    </Dialog>
  );
}
