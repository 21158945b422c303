// Trace, both ways on one screen: from a lot, a tip, a scale in doubt or a shift to every batch, its part and the coats beside; from a
// part to all that went into it. A list to take along where something has to be looked at again.
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { meQuery, traceQuery, type TraceAsks } from "../api/queries";
import { shopTime } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { PdfLink } from "../ui/PdfLink";
import { Empty, Failed, Loading } from "../ui/states";
import { ChooseTrace } from "./ChooseTrace";
import { CoatStack } from "./CoatStack";
import "./trace.css";

type Row = Schemas["TraceSeen"];
type View = Schemas["TraceView"];

const WORD: Record<View["of"], string> = {
  lot: "what got this lot",
  part: "what went onto this part",
  tip: "what went through this tip",
  scale: "what this scale weighed in doubt",
  shift: "what was done that day",
};

export function TraceView() {
  const asks = useSearch({ from: "/trace" });
  const asked = Boolean(asks.lot ?? asks.part ?? asks.rig ?? asks.scale ?? asks.person);
  const trace = useQuery({ ...traceQuery(asks), enabled: asked });
  const params = new URLSearchParams(asks as Record<string, string>).toString();
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1 className="ellipsis">{trace.data?.title ?? "Trace"}</h1>
        <span className="slate">
          {trace.data ? WORD[trace.data.of] : "what else got this lot, tip, scale or shift"}
        </span>
        {asked && (
          <Link to="/trace" search={{}} className="export">
            Ask for another
          </Link>
        )}
        {trace.data && trace.data.rows.length > 0 && (
          <>
            <PdfLink href={`/api/v1/trace.pdf?${params}`} word="Recall list as PDF" />
            <ExportLink href={`/api/v1/trace.csv?${params}`} word="Recall list as CSV" />
          </>
        )}
      </div>
      {!asked ? (
        <ChooseTrace />
      ) : trace.isPending ? (
        <Loading what="the trace" />
      ) : trace.error && !trace.data ? (
        <Failed error={trace.error} again={() => void trace.refetch()} />
      ) : trace.data ? (
        <Chain view={trace.data} asks={asks} />
      ) : null}
    </>
  );
}

function Chain({ view, asks }: { view: View; asks: TraceAsks }) {
  const navigate = useNavigate();
  const me = useQuery(meQuery).data;
  const zone = me?.zone ?? "UTC";
  const when = (from?: string | null, to?: string | null) =>
    `${from ? shopTime(from, zone, me?.now) : "the beginning"} to ${to ? shopTime(to, zone, me?.now) : "now"}`;
  return (
    <>
      <p className="trace-line" role="status">
        {view.line}
      </p>
      {view.spans.length > 0 && (
        <div className="trace-spans" role="group" aria-label="Which of them">
          {view.spans.map((s, i) => (
            <button
              key={`${s.words} ${s.from ?? ""}`}
              type="button"
              name={`span-${i}`}
              aria-pressed={i === view.span}
              onClick={() => void navigate({ to: "/trace", search: { ...asks, span: String(i) } })}
            >
              {s.words}
              <span className="small slate"> {when(s.from, s.to)}</span>
            </button>
          ))}
        </div>
      )}
      {view.rows.length === 0 ? (
        <Empty>{view.line}</Empty>
      ) : (
        <ol className="chain list" aria-label="Batches" tabIndex={0}>
          {view.rows.map((r) => (
            <OneBatch key={r.id} row={r} of={view.of} when={shopTime(r.begun, zone, me?.now)} />
          ))}
        </ol>
      )}
    </>
  );
}

function OneBatch({ row: r, of, when }: { row: Row; of: View["of"]; when: string }) {
  const facts = [
    r.lots.length > 0 && `lots ${r.lots.join(", ")}`,
    r.people.join(", "),
    r.rig,
    r.scales.length > 0 && r.scales.join(", "),
    r.weather,
  ].filter(Boolean);
  return (
    <li className={r.state}>
      <div>
        <Link to="/batches/$id" params={{ id: r.id }} search={{ at: 6 }}>
          <b>
            {String(r.number).padStart(4, "0")} {r.coat}
          </b>
        </Link>
        <div className="small slate">
          {when}, {r.product}
        </div>
      </div>
      <div>
        <span className={`state-word ${r.state}`}>{r.state.replace("_", " ")}</span>
        {r.defects > 0 && (
          <div className="small word-out">{r.defects === 1 ? "one defect" : `${r.defects} defects`}</div>
        )}
      </div>
      <div className="trace-part">
        <CoatStack coat={r.coat} beside={r.beside} />
        <div>
          {of !== "part" && (
            <Link to="/parts/$id" params={{ id: r.part }}>
              {r.part_name}
            </Link>
          )}
          <div className="small">
            {r.beside.length === 0 && <span className="slate">no other coat on it</span>}
            {r.beside.map((b) => (
              <span key={b.batch} className="beside">
                {b.over ? "under " : "over "}
                <Link to="/batches/$id" params={{ id: b.batch }} search={{}}>
                  {String(b.number).padStart(4, "0")} {b.coat}
                </Link>
              </span>
            ))}
          </div>
        </div>
      </div>
      <div className="small slate">{facts.join(" · ")}</div>
    </li>
  );
}
