// The log of the batch: newest first, strike and note from here.
import { Button, Drawer } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import type { BatchView, Schemas } from "../api/client";
import { useWaiting, waitingWord } from "../api/outbox";
import { logQuery, meQuery } from "../api/queries";
import { say, useSayable } from "../hands/say";
import { shopTime } from "../ui/clock";
import { Failed, Loading } from "../ui/states";
import { InHand } from "./InHand";
import { NoteDialog, ReasonDialog } from "./ReasonDialog";

type Line = Schemas["LogLine"];

/** Lines that stand under every station. */
const LINES = 2;

export function LogStrip({ view }: { view: BatchView }) {
  const zone = useQuery(meQuery).data?.zone ?? "UTC";
  const waiting = useWaiting().filter((w) => w.book === view.id);
  const sayable = useSayable();
  const { entry } = useSearch({ from: "/batches/$id" });
  const navigate = useNavigate();
  const [opened, setOpen] = useState(false);
  const open = opened || entry !== undefined;
  const shut = () => {
    setOpen(false);
    if (entry) void navigate({ to: "/batches/$id", params: { id: view.id }, search: (s) => ({ at: s.at }) });
  };
  const [striking, setStriking] = useState<Line | null>(null);
  const [noting, setNoting] = useState(false);
  return (
    <>
      <div className="log" aria-label="Log">
        {waiting.slice(0, 1).map((w) => (
          <div key={w.id} className="waits">
            <div className="ellipsis">
              <b>{waitingWord(w)}</b> {w.refused ?? "waits for the server"}
            </div>
            <div className="slate ellipsis">{w.name}</div>
          </div>
        ))}
        {view.log.slice(0, LINES - Math.min(1, waiting.length)).map((l) => (
          <div key={l.entry} style={{ minWidth: 0 }}>
            <div className={`ellipsis ${l.struck ? "struck" : ""}`}>
              <b className="mono">{shopTime(l.at, zone, view.as_of)}</b> {l.text}
            </div>
            <div className="slate ellipsis">{l.struck ? `struck, ${l.struck}` : l.by}</div>
          </div>
        ))}
        {view.log_count + waiting.length < LINES &&
          Array.from({ length: LINES - view.log_count - waiting.length }, (_, i) => <div key={i} />)}
        {sayable && (
          <Button variant="text" sx={{ px: 0, color: "text.primary" }} name="say-it" onClick={say}>
            Say it
          </Button>
        )}
        <InHand view={view} />
        <Button
          variant="text"
          sx={{ px: 0, color: "text.primary" }}
          name="open-log"
          aria-haspopup="dialog"
          onClick={() => setOpen(true)}
        >
          Log {view.log_count}
        </Button>
      </div>
      <Drawer anchor="right" open={open} onClose={shut} slotProps={{ paper: { "aria-label": "Log" } }}>
        <div style={{ padding: 20 }}>
          <div className="board-head">
            <h2>Log</h2>
            <Button
              variant="contained"
              sx={{ ml: "auto" }}
              name="note"
              aria-haspopup="dialog"
              onClick={() => setNoting(true)}
            >
              Write a note
            </Button>
          </div>
          {open && <WholeLog view={view} zone={zone} strike={setStriking} {...(entry ? { entry } : {})} />}
        </div>
      </Drawer>
      {striking && (
        <ReasonDialog
          view={view}
          title="Strike this entry"
          text={`${striking.text} (${striking.by}). It stays readable with your reason; nothing is erased.`}
          action="Strike"
          kind="strike"
          payload={(reason) => ({ entry: striking.entry, reason })}
          close={() => setStriking(null)}
        />
      )}
      {noting && <NoteDialog view={view} close={() => setNoting(false)} />}
    </>
  );
}

/** Every line, newest first; each that this person may strike has the button. */
function WholeLog({
  view,
  zone,
  strike,
  entry,
}: {
  view: BatchView;
  zone: string;
  strike: (line: Line) => void;
  entry?: string;
}) {
  const log = useQuery(logQuery(view.id));
  if (log.isPending) return <Loading what="the log" />;
  if (log.error && !log.data) return <Failed error={log.error} again={() => void log.refetch()} />;
  return (
    <table className="rows">
      <tbody>
        {log.data.map((l) => (
          <tr
            key={l.entry}
            className={`${l.struck ? "struck" : ""} ${l.entry === entry ? "shown-entry" : ""}`}
            ref={l.entry === entry ? (row) => row?.scrollIntoView({ block: "center" }) : null}
          >
            <td className="mono nowrap">
              {shopTime(l.at, zone, view.as_of)}
              {l.late && <div className="small slate">entered late</div>}
              {l.clock_back && <div className="small word-out">the clock was set back before this</div>}
            </td>
            <td>
              {l.text}
              <div className="small slate">{l.struck ? `struck, ${l.struck}` : l.by}</div>
            </td>
            <td>
              {l.may_strike && (
                <Button
                  variant="text"
                  name={`strike-${l.seq}`}
                  aria-haspopup="dialog"
                  onClick={() => strike(l)}
                >
                  Strike
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
