// Four readings, by hand or from the probes. Folded into a line while they are fresh.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { useEntryForm } from "../../api/useEntryForm";
import { probesQuery } from "../../api/queries";
import type { StationProps } from "../../batch/station";
import { minutes } from "../../ui/clock";
import { EntryField } from "../../ui/EntryField";
import { Act } from "../../ui/Act";

/** The four readings, as they are typed. */
export const EMPTY = { air_c: "", surface_c: "", material_c: "", rh_pct: "" };
type Typed = typeof EMPTY;

type Props = StationProps<"ready"> & {
  entry: ReturnType<typeof useEntryForm<"conditions", Typed>>;
  elapsed: number;
};

export function Conditions({ view, entry, elapsed }: Props) {
  const ready = view.ready;
  const [again, setAgain] = useState(false);
  const fresh = ready.gate === "go" && !ready.old && !again;
  if (fresh) {
    const ago = minutes(
      (new Date(view.as_of).getTime() - new Date(ready.read_at ?? view.as_of).getTime()) / 1000 + elapsed,
    );
    return (
      <div className="folded">
        <span>
          Air <b className="mono">{ready.air?.text}</b>, <b className="mono">{ready.humidity?.text}</b>,
          surface <b className="mono">{ready.surface?.text}</b>
          <span className="slate nowrap">
            {" "}
            read {ago.figure} {ago.unit} ago
          </span>
        </span>
        <Button
          variant="outlined"
          name="read-again"
          className="nowrap"
          sx={{ flex: "none" }}
          onClick={() => setAgain(true)}
        >
          Read again
        </Button>
      </div>
    );
  }
  const f = { of: entry };
  return (
    <form
      style={{ display: "grid", gap: 4 }}
      onSubmit={(e) => {
        e.preventDefault();
        void entry.take().then((ok) => ok && setAgain(false));
      }}
    >
      <span className="label">Read air, surface, material and humidity at the part</span>
      <div className="fields four">
        <EntryField {...f} name="air_c" label="Air" autoFocus={!ready.read_at} />
        <EntryField {...f} name="surface_c" label="Surface" />
        <EntryField {...f} name="material_c" label="Material" />
        <EntryField {...f} name="rh_pct" label="Humidity" />
      </div>
      <div className="actions">
        <Act name="take-conditions" word="Take these readings" needs={!entry.ready && "type what was read"} />
        <FromProbes take={entry.put} />
        {entry.stray && <span className="refusal">{entry.stray}</span>}
      </div>
    </form>
  );
}

/** Offers what the probes read; one that is lost says so and is never filled in. */
function FromProbes({ take }: { take: (filled: Partial<Typed>) => void }) {
  const probes = useQuery(probesQuery).data?.filter((p) => p.reading) ?? [];
  if (probes.length === 0) return null;
  const fresh = probes.filter((p) => p.fresh && p.shown);
  const lost = probes.filter((p) => !p.fresh);
  return (
    <>
      <Button
        variant="outlined"
        name="from-probes"
        disabled={fresh.length === 0}
        aria-describedby={lost.length > 0 ? "probes-lost" : undefined}
        onClick={() =>
          take(Object.fromEntries(fresh.map((p) => [p.reading, p.shown?.text.replace(" ", " ") ?? ""])))
        }
      >
        From the probes
      </Button>
      {lost.length > 0 && (
        <span id="probes-lost" className="small slate">
          {lost.map((p) => `${p.name}: ${p.word}`).join(", ")}. Type those.
        </span>
      )}
    </>
  );
}
