// What waits for the server: a line under the header while it is silent, and the list behind it.
import { Button, Dialog } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { agoOf, letGo, sendWaiting, useWaiting, waitingWord } from "../api/outbox";
import { minutes } from "../ui/clock";

export function Waiting({ me, online }: { me: Schemas["Me"]; online: boolean }) {
  const waiting = useWaiting();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const refused = waiting.filter((w) => w.refused).length;
  const due = waiting.length - refused;
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
  const count = due === 1 ? "1 stamp waits" : `${due} stamps wait`;
  const others = waiting.find((w) => !w.refused && w.who !== me.id);
  return (
    <div className="banner no-print" role="alert" data-waiting={waiting.length}>
      <span>
        {!online && "The server does not answer. Clocks run on; sums need the server, stamps wait here. "}
        {due > 0 && `${count} in this browser. `}
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
                    </td>
                    <td>
                      {w.refused ? (
                        <Button variant="outlined" onClick={() => letGo(w.id)}>
                          Seen, take it away
                        </Button>
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
