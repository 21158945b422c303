// What holds the work, and the way out of it.
import { Button } from "@mui/material";
import { useState } from "react";
import type { BatchView, Schemas } from "../api/client";
import { ReasonDialog } from "./ReasonDialog";

export function Holds({ view }: { view: BatchView }) {
  const [releasing, setReleasing] = useState<Schemas["Hold"] | null>(null);
  const [denying, setDenying] = useState<Schemas["Hold"] | null>(null);
  // What is merely not done yet is said at its station; the strip is for what is held.
  const shown = view.holds.filter((h) => h.reached || h.released);
  if (shown.length === 0) return null;
  return (
    <div className="holds">
      {shown.map((h) => (
        <div
          key={`${h.gate} ${h.charge ?? ""} ${h.item ?? ""} ${h.trouble}`}
          className={`hold ${h.released ? "released" : ""}`}
          role="status"
        >
          <b>{h.released ? "Released" : h.severity === "stop" ? "Stop" : "Hold"}</b>
          <span style={{ flex: 1 }}>
            {h.text} {h.released && <i>{h.released}</i>}
          </span>
          {h.trouble === "birth-in-doubt" && !h.released && view.can_release && (
            <Button variant="outlined" size="small" name="deny-birth" onClick={() => setDenying(h)}>
              It never happened
            </Button>
          )}
          {h.severity === "hold" && !h.released && view.can_release && (
            <Button variant="outlined" size="small" name="release" onClick={() => setReleasing(h)}>
              Release
            </Button>
          )}
          {h.severity === "hold" && !h.released && !view.can_release && (
            <span className="slate nowrap">a lead may release</span>
          )}
        </div>
      ))}
      {releasing && (
        <ReasonDialog
          view={view}
          title="Release this hold"
          text={releasing.text}
          action="Release"
          kind="release"
          payload={(reason) => ({
            gate: releasing.gate,
            charge: releasing.charge ?? null,
            item: releasing.item ?? null,
            trouble: releasing.trouble,
            reason,
            seen_seq: view.head_seq,
          })}
          close={() => setReleasing(null)}
        />
      )}
      {denying && (
        <ReasonDialog
          view={view}
          title="Hardener never met base then"
          text={denying.text}
          action="Deny that birth"
          kind="birth_denied"
          payload={(reason) => ({ charge: denying.charge ?? "", reason })}
          close={() => setDenying(null)}
        />
      )}
    </div>
  );
}
