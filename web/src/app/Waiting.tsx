// What waits for the server: a line under the header while it is silent, and the list behind it.
import { Button, Dialog } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { databaseAway, useSignal } from "../api/client";
import { agoOf, isSettled, letGo, sendWaiting, useWaiting, waitingWord } from "../api/outbox";
import { minutes } from "../ui/clock";

export function Waiting({ me, online }: { me: Schemas["Me"]; online: boolean }) {
  const waiting = useWaiting();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const away = useSignal(databaseAway);
  const refused = waiting.filter((w) => w.refused).length;
  const due = waiting.filter((w) => !isSettled(w)).length;
  const asked = waiting.filter((w) => w.asks && !isSettled(w)).length;
  const found = waiting.find((w) => w.found);
  useEffect(() => {
    if (due === 0) return;
    const send = () => {
      void sendWaiting(me).then((landed) => {
        if (landed) void client.invalidateQueries({ predicate: isLive });
      });
    };
    if (online) send();
    const timer = setInterval(send, 3000);
    window.addEventListener("online", send);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", send);
    };
  }, [client, due, me, online]);
  if (online && waiting.length === 0) return null;
  const stamps = due - asked;
  const count = stamps === 1 ? "1 stamp waits" : `${stamps} stamps wait`;
  const others = waiting.find((w) => !isSettled(w) && w.who !== me.id);
  return (
    <div className="banner no-print" role="alert" data-waiting={waiting.length}>
      <span>
        {!online &&
          (away
            ? "The database does not answer. Clocks run on; what stands here is as it was last read, stamps wait here. "
            : "The server does not answer. Clocks run on; sums need the server, stamps wait here. ")}
        {stamps > 0 && `${count} in this browser. `}
        {asked > 0 && "Of a decision it is not known whether it is stored: the server is asked. "}
        {found && `${capital(waitingWord(found))}: ${found.found} `}
        {others && `${others.name} must sign in to send theirs. `}
        {refused > 0 && `${refused === 1 ? "1 was" : `${refused} were`} refused. `}
      </span>
      {waiting.length > 0 && (
        <button type="button" name="see-waiting" aria-haspopup="dialog" onClick={() => setOpen(true)}>
          See them
        </button>
      )}
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="waiting-title" fullWidth>
        <div style={{ padding: 24, display: "grid", gap: 12 }}>
          <h2 id="waiting-title">Stamps that wait for the server</h2>
          <table className="rows">
            <tbody>
              {waiting.map((w) => {
                const ago = minutes(agoOf(w));
                return (
                  <tr key={w.id}>
                    <td>
                      <b>{waitingWord(w)}</b>
                      <div className="small slate">
                        {w.name}, {ago.figure} {ago.unit} ago
                      </div>
                      {w.refused && <div className="refusal">{w.refused}</div>}
                      {w.found && <div>{w.found}</div>}
                    </td>
                    <td>
                      {isSettled(w) ? (
                        <Button variant="outlined" onClick={() => letGo(w.id)}>
                          Seen, take it away
                        </Button>
                      ) : w.asks ? (
                        "asked of"
                      ) : (
                        "waits"
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Close
          </Button>
        </div>
      </Dialog>
    </div>
  );
}

const isLive = (q: { queryKey: readonly unknown[] }) =>
  ["board", "batch", "records"].includes(String(q.queryKey[0]));

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
