// The batch card as a page to print: as it was signed, or as it stands.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { cardCheckpointQuery, cardQuery, meQuery } from "../../api/queries";
import { CardCode } from "./CardCode";
import { shopTime } from "../../ui/clock";
import { ExportLink } from "../../ui/ExportLink";
import { PdfLink } from "../../ui/PdfLink";
import { Level } from "../../ui/Level";
import { Accepted } from "../../acceptance/Accepted";
import { Failed, Loading } from "../../ui/states";

export function CardView() {
  const { id } = useParams({ from: "/batches/$id/card" });
  return <CardPaper id={id} alone />;
}

/** The paper of one card; `alone`: it is printed by itself. */
export function CardPaper({ id, alone = false }: { id: string; alone?: boolean }) {
  const card = useQuery(cardQuery(id));
  const me = useQuery(meQuery).data;
  const covered = useQuery(cardCheckpointQuery(id)).data?.line;
  if (card.isPending) return <Loading what="the card" />;
  if (card.error && !card.data) return <Failed error={card.error} again={() => void card.refetch()} />;
  const { view, signed, accepted, deviations, recoat, log, core_version, head_hash, head_seq } = card.data;
  const pots = card.data.pots ?? [];
  // A card signed by an older version has none of these.
  const { lots = [], checks = [], releases = [] } = card.data.document ?? {};
  const struck = log.filter((l) => l.struck).length;
  const time = (at: string) => shopTime(at, me?.zone ?? "UTC", me?.now);
  return (
    <article className="card">
      <div className="board-head">
        <h1>{view.title}</h1>
        <span className="slate">
          {accepted ? "signed card" : signed ? "signed, not accepted yet" : "not signed yet"}
        </span>
        <PdfLink href={`/api/v1/batches/${id}/card.pdf`} />
        <ExportLink href={`/api/v1/batches/${id}/card.json`} word="Take as JSON" />
        <ExportLink href={`/api/v1/batches/${id}/card.csv`} word="Take as CSV" />
        {alone && view.job && (
          <Link to="/jobs/$id" params={{ id: view.job.job }} className="export no-print">
            The whole job
          </Link>
        )}
        {alone && (
          <Button className="no-print" variant="contained" onClick={() => window.print()} name="print">
            Print
          </Button>
        )}
      </div>
      <div className="card-top">
        <p>{view.subtitle}</p>
        <CardCode id={id} />
      </div>
      <h2>Conditions</h2>
      <p>
        Air {view.ready.air?.text}, surface {view.ready.surface?.text}, material {view.ready.material?.text},
        humidity {view.ready.humidity?.text}, dew point {view.ready.dew_point?.text}.
      </p>
      <div style={{ maxWidth: 620 }}>{view.ready.levels[0] && <Level level={view.ready.levels[0]} />}</div>
      {(lots.length > 0 || checks.length > 0) && (
        <>
          <h2>Made ready</h2>
          {lots.length > 0 && (
            <p>
              Lots:{" "}
              {lots
                .map((l) => `${l.component} ${l.code}${l.reason ? ` (${l.reason})` : ""}, ${l.by}`)
                .join(" · ")}
            </p>
          )}
          <ul className="made-ready">
            {checks.map((c) => (
              <li key={`${c.at}${c.item}`}>
                {c.did === "failed" ? <b className="word-out">not right </b> : null}
                {c.text}
                {c.remark ? `: ${c.remark}` : ""}
                {c.photo && (
                  <>
                    {" "}
                    <a href={`/api/v1/files/${c.photo}`} download>
                      photo
                    </a>
                  </>
                )}{" "}
                <span className="slate small nowrap">
                  {time(c.at)} {c.by}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      <h2>Ratio</h2>
      <div style={{ maxWidth: 620 }}>
        {view.prove.proofs.map((p, i) => (
          <Level key={`${p.title}${i}`} level={{ ...p.level, label: p.title }} />
        ))}
        {view.prove.proofs.length === 0 && <p>Nothing to prove.</p>}
      </div>
      {pots.length > 0 && <h2>Pots</h2>}
      {pots.map((p) => (
        <section key={p.title}>
          <h3>{p.title}</h3>
          <ul className="made-ready">
            {p.lines.map((l) => (
              <li key={l.text}>
                {l.text}
                {l.at && (
                  <>
                    {" "}
                    <span className="slate small nowrap">{time(l.at)}</span>
                  </>
                )}
              </li>
            ))}
          </ul>
        </section>
      ))}
      <h2>Pressures and stream</h2>
      {view.set.rig_name && <p>With {view.set.rig_name}.</p>}
      <p>
        {view.set.set_ups.length === 0 && "None recorded."}
        {view.set.set_ups
          .map((t) =>
            [
              t.supply && `supply ${t.supply.text}`,
              t.pot && `pot ${t.pot.text}`,
              t.b && `B ${t.b.text}`,
              t.stream &&
                `stream ${t.stream.text}${t.flowed ? ` of ${t.flowed}` : ""}${t.word ? ` (${t.word})` : ""}`,
              t.pattern,
              t.atomizing && `air ${t.atomizing.text}`,
              t.air_read,
              t.cap && `${t.cap.text} at the cap`,
              t.knobs,
            ]
              .filter(Boolean)
              .join(", "),
          )
          .join(" · ")}
      </p>
      {(view.set.presets ?? []).length > 0 && (
        <p>
          Last good set-ups:{" "}
          {view.set.presets
            .map(
              (p) =>
                `batch ${String(p.number).padStart(4, "0")} ${p.pot?.text ?? ""}${p.atomizing ? `, air ${p.atomizing.text}` : ""}${p.air_read ? ` ${p.air_read}` : ""}${p.stream ? `, stream ${p.stream.text}` : ""}${p.knobs ? `, ${p.knobs}` : ""}`,
            )
            .join(" · ")}
          .{view.set.drift ? ` ${view.set.drift}` : ""}
        </p>
      )}
      {(view.set.steps ?? []).length > 0 && (
        <p>
          By step:{" "}
          {view.set.steps
            .map((s) => `${s.word} ${s.pot?.text ?? ""}, air ${s.atomizing?.text ?? "–"}`)
            .join(" · ")}
          .
        </p>
      )}
      <h2>Film</h2>
      <div style={{ maxWidth: 620 }}>
        {view.film_level ? <Level level={view.film_level} /> : <p>No comb reading.</p>}
        {view.spray.dry && <Level level={view.spray.dry} />}
      </div>
      {view.close.accept && <Accepted accept={view.close.accept} />}
      {recoat && (
        <p>
          Next coat: {recoat.earliest ? `not before ${time(recoat.earliest)}` : "no earliest by sheet"}
          {recoat.latest ? `, without abrading until ${time(recoat.latest)}` : ""}.
        </p>
      )}
      <h2>Deviations</h2>
      {deviations.length === 0 ? (
        <p>None.</p>
      ) : (
        <div className="deviations">
          {deviations.map((d) => (
            <div key={`${d.entry}${d.code}`}>
              <p>{d.text}</p>
              <p className="answer">{d.answer ?? "Not answered."}</p>
            </div>
          ))}
        </div>
      )}
      {releases.length > 0 && (
        <>
          <h2>Released</h2>
          {releases.map((r) => (
            <p key={`${r.at}${r.gate}${r.item ?? ""}`}>
              {time(r.at)} {r.by}: {r.gate.replaceAll("_", " ")}
              {r.item ? `, ${r.item.replaceAll("_", " ")}` : ""}. {r.reason}
            </p>
          ))}
        </>
      )}
      <h2>Log</h2>
      <p className="print-only">
        {log.length} entries{struck > 0 ? `, ${String(struck)} of them struck` : ""}; they stand on the page
        and in the card as JSON or PDF.
      </p>
      <table className="rows no-print">
        <tbody>
          {log.map((l) => (
            <tr key={l.entry} className={l.struck ? "struck" : ""}>
              <td className="mono nowrap">{time(l.at)}</td>
              <td>{l.text}</td>
              <td className="nowrap">{l.struck ? `struck, ${l.struck}` : l.by}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2>Signatures</h2>
      <p>Work: {signed ? `${signed.by}, ${time(signed.at)}` : "–"}</p>
      <p>Accepted: {accepted ? `${accepted.by}, ${time(accepted.at)}` : "–"}</p>
      {(card.data.noted ?? []).map((line) => (
        <p key={line}>{line}</p>
      ))}
      <p className="hash mono">
        core {core_version} · entry {head_seq} · head {head_hash}
        {covered && (
          <>
            <br />
            {covered}
          </>
        )}
      </p>
      <p className="small slate">The data sheet, local codes and licensed practice rule.</p>
    </article>
  );
}
