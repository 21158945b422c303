// One strip for what holds the work, what is to be answered and what can hurt: the hold's words first; a tap opens all of it.
import { Button } from "@mui/material";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import type { BatchView, Schemas } from "../api/client";
import { ReasonDialog } from "./ReasonDialog";

type Hold = Schemas["Hold"];
type Deviation = Schemas["Deviation"];

/** What the line says. */
type Said = { hold: Hold } | { deviation: Deviation };

/** A stop before a hold, both before what is to be answered; last what a lead released. */
const rank = (said: Said) =>
  "deviation" in said ? 2 : said.hold.released ? 3 : said.hold.severity === "stop" ? 0 : 1;
const word = (h: Hold) => (h.released ? "Released" : h.severity === "stop" ? "Stop" : "Hold");
const look = (said: Said | undefined) =>
  !said || "deviation" in said ? "" : said.hold.released ? "released" : "held";
const key = (said: Said) =>
  "deviation" in said
    ? `${said.deviation.entry} ${said.deviation.code}`
    : `${said.hold.gate} ${said.hold.charge ?? ""} ${said.hold.item ?? ""} ${said.hold.trouble}`;

function allSaid(view: BatchView): Said[] {
  // What is merely not done yet is said at its station; the strip is for what is held.
  const holds = view.holds.filter((h) => h.reached || h.released).map((hold) => ({ hold }));
  const asked = (view.to_answer ?? []).map((deviation) => ({ deviation }));
  return [...holds, ...asked].sort((a, b) => rank(a) - rank(b));
}

export function Strip({ view }: { view: BatchView }) {
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState<{ hold: Hold; deny: boolean } | null>(null);
  const [seen, see] = useSeen(view);
  const all = allSaid(view);
  const [first, ...others] = all;
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
            <Words said={first} />
          </span>
        ) : (
          <span className="ellipsis">
            <b>{cautions.map((c) => c.name).join(" · ")}.</b> {cautions[0]?.text}
          </span>
        )}
        {others.length > 0 && <span className="nowrap slate">and {others.length} more</span>}
      </button>
      {first && <WayOut said={first} view={view} ask={ask} />}
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
          {all.map((said) => (
            <div key={key(said)} className="strip-hold">
              <span>
                <Words said={said} />
              </span>
              <WayOut said={said} view={view} ask={ask} />
            </div>
          ))}
          <Cautions cautions={cautions} />
        </div>
      )}
      <div className="print-only">
        {all.map((said) => (
          <p key={key(said)}>
            <Words said={said} />
          </p>
        ))}
        <Cautions cautions={cautions} />
      </div>
      {asked && <Asked view={view} {...asked} close={() => setAsked(null)} />}
    </div>
  );
}

function Cautions({ cautions }: Pick<BatchView, "cautions">) {
  return (
    <>
      {cautions.map((c) => (
        <p key={c.hazard}>
          <b>{c.name}.</b> {c.text}
        </p>
      ))}
      <p className="slate">The data sheet, local codes and licensed practice rule.</p>
    </>
  );
}

function Words({ said }: { said: Said }) {
  if ("deviation" in said)
    return (
      <>
        <b>To answer</b> {said.deviation.text}
      </>
    );
  const { hold } = said;
  return (
    <>
      <b>{word(hold)}</b> {hold.text} {hold.released && <i>{hold.released}</i>}
    </>
  );
}

type WayOutProps = { said: Said; view: BatchView; ask: (hold: Hold, deny: boolean) => void };

/** What may be done about it; where only a lead may, for others who that is. */
function WayOut({ said, view, ask }: WayOutProps) {
  if ("deviation" in said) return <ToAnswer view={view} />;
  const { hold } = said;
  if (hold.released) return null;
  const lead = view.can_release;
  return (
    <>
      {hold.trouble === "birth-in-doubt" && lead && (
        <Button variant="outlined" name="deny-birth" aria-haspopup="dialog" onClick={() => ask(hold, true)}>
          It never happened
        </Button>
      )}
      {hold.severity === "hold" && lead && (
        <Button variant="outlined" name="release" aria-haspopup="dialog" onClick={() => ask(hold, false)}>
          Release
        </Button>
      )}
      {hold.severity === "hold" && !lead && <span className="slate nowrap">a lead may release</span>}
    </>
  );
}

/** Answers are written at Close, where each deviation stands with its own. */
function ToAnswer({ view }: { view: BatchView }) {
  const navigate = useNavigate();
  if (view.close) return null;
  return (
    <Button
      variant="outlined"
      name="to-answer"
      onClick={() => void navigate({ to: "/batches/$id", params: { id: view.id }, search: { at: 6 } })}
    >
      Answer
    </Button>
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
        action="It never happened"
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
