// A batch: its waterline, what holds it, the open station, and the log strip.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { useKeys } from "../app/keys";
import type { BatchView, Schemas } from "../api/client";
import { batchQuery, meQuery } from "../api/queries";
import { Failed, Loading } from "../ui/states";
import { Waterline } from "../ui/Waterline";
import { CloseStation } from "../stations/close/CloseStation";
import { LogStrip } from "./LogStrip";
import { MixStation } from "../stations/mix/MixStation";
import { ProveStation } from "../stations/prove/ProveStation";
import { ReadyStation } from "../stations/ready/ReadyStation";
import { ReasonDialog } from "./ReasonDialog";
import { SetStation } from "../stations/set/SetStation";
import { SprayStation } from "../stations/spray/SprayStation";

const STATIONS = [ReadyStation, MixStation, SetStation, ProveStation, SprayStation, CloseStation];

export function BatchPage() {
  const { id } = useParams({ from: "/batches/$id" });
  const { at } = useSearch({ from: "/batches/$id" });
  const navigate = useNavigate();
  const rate = useQuery(meQuery).data?.clock_rate;
  const batch = useQuery(batchQuery(id, rate));
  const open = at ?? batch.data?.hands_at ?? 1;
  const go = (no: number) =>
    void navigate({ to: "/batches/$id", params: { id }, search: { at: no }, replace: true });
  useKeys((key) => {
    if (/^[1-6]$/.test(key)) go(Number(key));
    else if (key === "n") document.querySelector<HTMLElement>(".do input, .do button")?.focus();
    else return false;
    return true;
  });
  if (batch.isPending) return <Loading what="the batch" />;
  if (batch.error && !batch.data) return <Failed error={batch.error} again={() => void batch.refetch()} />;
  const view = batch.data;
  const Station = STATIONS[open - 1] ?? ReadyStation;
  return (
    <div className="batch">
      <div className="batch-title">
        <h1 className="ellipsis" title={view.title}>
          {view.title}
        </h1>
        <span className="slate ellipsis">{view.subtitle}</span>
      </div>
      <Waterline stations={view.stations} open={open} onOpen={go} />
      <Cautions view={view} />
      <Holds view={view} />
      <div className="station" role="tabpanel">
        <Station key={open} view={view} />
      </div>
      <LogStrip view={view} />
    </div>
  );
}

function Cautions({ view }: { view: BatchView }) {
  const [open, setOpen] = useState(false);
  if (view.cautions.length === 0) return null;
  return (
    <button
      type="button"
      className="caution plain-button"
      style={{ padding: "5px 10px" }}
      onClick={() => setOpen(!open)}
      aria-expanded={open}
    >
      <svg width="24" height="22" viewBox="0 0 24 22" aria-hidden>
        <path d="M12 2 L23 20 H1 Z" fill="none" stroke="var(--ochre)" strokeWidth="2.5" />
        <path d="M12 8v6M12 16v2" stroke="var(--ochre)" strokeWidth="2.5" />
      </svg>
      {open ? (
        <span>
          {view.cautions.map((c) => (
            <span key={c.hazard} style={{ display: "block" }}>
              <b>{c.name}.</b> {c.text}
            </span>
          ))}
          <span className="slate">The data sheet, local codes and licensed practice rule.</span>
        </span>
      ) : (
        <span className="ellipsis">
          <b>{view.cautions.map((c) => c.name).join(" · ")}.</b> {view.cautions[0]?.text} Tap for all.
        </span>
      )}
    </button>
  );
}

function Holds({ view }: { view: BatchView }) {
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
          payload={(reason) => ({ charge: denying.charge, reason })}
          close={() => setDenying(null)}
        />
      )}
    </div>
  );
}
