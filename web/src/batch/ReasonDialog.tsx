// Asks for a reason and writes the entry that carries it.
import type { BatchView } from "../api/client";
import { useWrite } from "../api/entry";
import type { Kind, PayloadOf } from "../api/outbox";
import { AskReason } from "../ui/AskReason";

export function ReasonDialog<K extends Kind>(props: {
  view: BatchView;
  title: string;
  text: string;
  action: string;
  kind: K;
  payload: (reason: string) => PayloadOf<K>;
  close: () => void;
}) {
  const { write, busy, refused } = useWrite(props.view.id);
  return (
    <AskReason
      {...props}
      hint="it stands on the card"
      busy={busy}
      error={refused?.detail}
      submit={(reason) => void write(props.kind, props.payload(reason)).then((ok) => ok && props.close())}
    />
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
