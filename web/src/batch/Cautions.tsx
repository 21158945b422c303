// The cautions of a batch in one line; a tap shows all.
import { useState } from "react";
import type { BatchView } from "../api/client";

export function Cautions({ view }: { view: BatchView }) {
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
