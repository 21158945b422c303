// Causes, the likeliest first: what speaks for and against each, what nobody recorded; every figure leads to its entry.
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import type { StationProps } from "../batch/station";
import { Tally } from "./Tally";

type Cause = Schemas["CauseSeen"];
const SIDE = { for: "for", against: "against", not_recorded: "not recorded" } as const;
const tone = (s: Cause["strength"]) =>
  s === "strong" ? "word-in" : s === "some" ? "word-tell" : s === "against" ? "slate" : "slate";

export function CausesList({ view, causes }: StationProps<"close"> & { causes: Cause[] }) {
  const [open, setOpen] = useState<string | null>(null);
  const shown = open ?? causes[0]?.cause;
  return (
    <ol className="causes" tabIndex={0} aria-label="Likely causes">
      {causes.map((c) => (
        <li key={c.cause}>
          <button
            type="button"
            name={`cause-${c.cause}`}
            aria-expanded={shown === c.cause}
            onClick={() => setOpen(shown === c.cause ? "" : c.cause)}
          >
            <span className="cause-name">{c.name}</span>
            <Tally counts={c.counts} />
            <span className={tone(c.strength)}>{c.word}</span>
          </button>
          {shown === c.cause && (
            <div className="evidence">
              {c.evidence.length === 0 && (
                <p className="small slate">No record tells of it: it is looked at.</p>
              )}
              {c.evidence.map((e) => (
                <p key={e.text} className={e.side === "not_recorded" ? "slate" : ""}>
                  <span className={`side ${e.side}`}>{SIDE[e.side]}</span> {e.text}{" "}
                  <span className="small slate">{e.from}</span> <ToEntry view={view} evidence={e} />
                </p>
              ))}
              {c.shop && <p className="small slate">{c.shop}</p>}
              <p className="small">
                <b>Next time.</b> {c.next_time}
              </p>
            </div>
          )}
        </li>
      ))}
    </ol>
  );
}

/** Where a figure stands: in the log of the batch, or in the book of its rig. */
function ToEntry({ view, evidence }: StationProps<"close"> & { evidence: Schemas["EvidenceSeen"] }) {
  if (!evidence.entry) return null;
  if (evidence.from === "rig book")
    return view.close.rig ? (
      <Link to="/rigs" search={{ rig: view.close.rig }} className="small">
        its book
      </Link>
    ) : null;
  return (
    <Link
      to="/batches/$id"
      params={{ id: view.id }}
      search={{ at: 6, entry: evidence.entry }}
      className="small"
    >
      its entry
    </Link>
  );
}
