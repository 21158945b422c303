// One strip for what holds the work and what can hurt: the hold's words first; a tap opens all of it.
import { Button } from "@mui/material";
import { useState } from "react";
import type { BatchView, Schemas } from "../api/client";
import { ReasonDialog } from "./ReasonDialog";

type Hold = Schemas["Hold"];

/** What stands now before what was released; a stop before a hold. */
const rank = (h: Hold) => (h.released ? 2 : h.severity === "stop" ? 0 : 1);
const word = (h: Hold) => (h.released ? "Released" : h.severity === "stop" ? "Stop" : "Hold");
const look = (h: Hold | undefined) => (!h ? "" : h.released ? "released" : "held");

export function Strip({ view }: { view: BatchView }) {
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState<{ hold: Hold; deny: boolean } | null>(null);
  const [seen, see] = useSeen(view);
  // What is merely not done yet is said at its station; the strip is for what is held.
  const holds = view.holds.filter((h) => h.reached || h.released).sort((a, b) => rank(a) - rank(b));
  const [first, ...others] = holds;
  const { cautions } = view;
  if (!first && cautions.length === 0) return null;
  const toggle = () => {
    setOpen(!open);
    see();
  };
  const ask = (hold: Hold, deny: boolean) => {
    setOpen(false);
    setAsked({ hold, deny });
  };
  return (
    <div className={`strip ${look(first)}`} onKeyDown={(e) => e.key === "Escape" && setOpen(false)}>
      <button
        type="button"
        className="plain-button strip-line"
        name="open-strip"
        aria-expanded={open}
        onClick={toggle}
      >
        {first ? (
          <span className="ellipsis" role="status">
            <b>{word(first)}</b> {first.text} {first.released && <i>{first.released}</i>}
          </span>
        ) : (
          <span className="ellipsis">
            <b>{cautions.map((c) => c.name).join(" · ")}.</b> {cautions[0]?.text}
          </span>
        )}
        {others.length > 0 && <span className="nowrap slate">and {others.length} more</span>}
      </button>
      {first && <WayOut hold={first} view={view} ask={ask} />}
      {cautions.length > 0 && (
        <button
          type="button"
          className="plain-button strip-cautions"
          aria-expanded={open}
          aria-label={`${cautions.length} cautions`}
          onClick={toggle}
        >
          <Triangle full={!seen} /> <b>{cautions.length}</b>
        </button>
      )}
      {open && (
        <div className="strip-all">
          {holds.map((h) => (
            <div key={`${h.gate} ${h.charge ?? ""} ${h.item ?? ""} ${h.trouble}`} className="strip-hold">
              <span>
                <b>{word(h)}</b> {h.text} {h.released && <i>{h.released}</i>}
              </span>
              <WayOut hold={h} view={view} ask={ask} />
            </div>
          ))}
          {cautions.map((c) => (
            <p key={c.hazard}>
              <b>{c.name}.</b> {c.text}
            </p>
          ))}
          <p className="slate">The data sheet, local codes and licensed practice rule.</p>
        </div>
      )}
      {asked && <Asked view={view} {...asked} close={() => setAsked(null)} />}
    </div>
  );
}

type WayOutProps = { hold: Hold; view: BatchView; ask: (hold: Hold, deny: boolean) => void };

/** What a lead may do about it; for others, who may. */
function WayOut({ hold, view, ask }: WayOutProps) {
  if (hold.released) return null;
  const lead = view.can_release;
  return (
    <>
      {hold.trouble === "birth-in-doubt" && lead && (
        <Button variant="outlined" name="deny-birth" onClick={() => ask(hold, true)}>
          It never happened
        </Button>
      )}
      {hold.severity === "hold" && lead && (
        <Button variant="outlined" name="release" onClick={() => ask(hold, false)}>
          Release
        </Button>
      )}
      {hold.severity === "hold" && !lead && <span className="slate nowrap">a lead may release</span>}
    </>
  );
}

function Asked({
  view,
  hold,
  deny,
  close,
}: {
  view: BatchView;
  hold: Hold;
  deny: boolean;
  close: () => void;
}) {
  if (deny)
    return (
      <ReasonDialog
        view={view}
        title="Hardener never met base then"
        text={hold.text}
        action="Deny that birth"
        kind="birth_denied"
        payload={(reason) => ({ charge: hold.charge ?? "", reason })}
        close={close}
      />
    );
  return (
    <ReasonDialog
      view={view}
      title="Release this hold"
      text={hold.text}
      action="Release"
      kind="release"
      payload={(reason) => ({
        gate: hold.gate,
        charge: hold.charge ?? null,
        item: hold.item ?? null,
        trouble: hold.trouble,
        reason,
        seen_seq: view.head_seq,
      })}
      close={close}
    />
  );
}

/** Filled until somebody has read the cautions of this batch on this screen. */
function Triangle({ full }: { full: boolean }) {
  return (
    <svg width="26" height="24" viewBox="0 0 24 22" aria-hidden>
      <path
        d="M12 2 L23 20 H1 Z"
        fill={full ? "var(--ochre)" : "none"}
        stroke="var(--ochre)"
        strokeWidth="2.5"
      />
      <path d="M12 8v6M12 16v2" stroke={full ? "var(--ground)" : "var(--ochre)"} strokeWidth="2.5" />
    </svg>
  );
}

/** Whether the cautions of this batch were opened here; another caution makes them unread again. */
function useSeen(view: BatchView): [boolean, () => void] {
  const key = `level-keel-cautions-${view.id}`;
  const all = view.cautions.map((c) => c.hazard).join(" ");
  const [read, setRead] = useState(() => sessionStorage.getItem(key));
  const see = () => {
    sessionStorage.setItem(key, all);
    setRead(all);
  };
  return [read === all, see];
}
