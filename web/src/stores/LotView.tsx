// One lot: what it is, what is left, who took it, its certificate, its book.
import { Button, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { at } from "../api/entry";
import { lotQuery, meQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { AskReason } from "../ui/AskReason";
import { Field } from "../ui/Field";
import { FileField } from "../ui/FileField";
import { FormDialog } from "../ui/FormDialog";
import { Failed, Loading } from "../ui/states";
import { LotCan } from "./LotCan";
import { useDryKeep, useKeep } from "./keep";

type Asked = "counted" | "moved" | "quarantined" | "freed" | "damaged" | "certified" | "note";
const ASK: Record<Asked, [string, string, string]> = {
  counted: ["What is left", "Take the count", "left_g"],
  moved: ["Move it", "Move it", "place"],
  quarantined: ["Into quarantine", "Nobody takes it", "reason"],
  freed: ["Free it", "It may be taken again", "reason"],
  damaged: ["Container damaged", "Write it down", "reason"],
  certified: ["Certificate", "Keep it", "values"],
  note: ["Note", "Write", "text"],
};

export function LotView() {
  const { id } = useParams({ from: "/stores/$id" });
  const lot = useQuery(lotQuery(id));
  const me = useQuery(meQuery).data;
  const [asked, setAsked] = useState<Asked | null>(null);
  const [striking, setStriking] = useState<Schemas["LotLogLine"] | null>(null);
  if (lot.isPending) return <Loading what="the lot" />;
  if (lot.error && !lot.data) return <Failed error={lot.error} again={() => void lot.refetch()} />;
  const l = lot.data;
  const time = (t: string) => shopTime(t, me?.zone ?? "UTC", me?.now);
  const barred = l.state === "expired" || l.state === "quarantined";
  const fact = (name: string, value: string | null | undefined) => (
    <div>
      <span className="label">{name}</span>
      <div className="mono">{value ?? "–"}</div>
    </div>
  );
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1 className="mono">{l.code}</h1>
        <span className="slate ellipsis">
          {l.product}, {l.component_name}
        </span>
        <Link to="/stores" className="export">
          All lots
        </Link>
        <Link to="/trace" search={{ lot: l.id }} className="export">
          Trace it
        </Link>
        <Link to="/labels" search={{ of: `lot:${l.id}` }} className="export">
          Its label
        </Link>
      </div>
      <div className="station lot-page">
        <div className="do">
          <div style={{ display: "flex", gap: 18, alignItems: "center" }}>
            <LotCan part={l.left_part} state={l.state} size={96} />
            <div>
              <div>
                <span className="live mono">{l.left?.figure ?? "–"}</span> {l.left?.unit} left
              </div>
              <b className={barred ? "word-out" : l.state === "fit" ? "word-in" : "word-tell"}>{l.word}</b>
              {l.quarantined && <div>{l.quarantined}</div>}
              {l.damaged && <div className="word-tell">Container: {l.damaged}</div>}
            </div>
          </div>
          <div className="facts">
            {fact("Maker’s lot", l.makers_lot)}
            {fact("Colour", l.colour)}
            {fact("Came in", l.received)}
            {fact("Made", l.made)}
            {fact("Good until", l.expires)}
            {fact("Containers", l.container ? `${l.containers ?? 0} × ${l.container.text}` : null)}
            {fact("Place", l.place?.name)}
          </div>
          {l.is_received ? (
            <div className="actions">
              <Button
                variant="contained"
                name="ask-counted"
                aria-haspopup="dialog"
                onClick={() => setAsked("counted")}
              >
                Count it
              </Button>
              <Button
                variant="outlined"
                name="ask-moved"
                aria-haspopup="dialog"
                onClick={() => setAsked("moved")}
              >
                Move
              </Button>
              <Button
                variant="outlined"
                name="ask-certified"
                aria-haspopup="dialog"
                onClick={() => setAsked("certified")}
              >
                Certificate
              </Button>
              <Button
                variant="outlined"
                name="ask-damaged"
                aria-haspopup="dialog"
                onClick={() => setAsked("damaged")}
              >
                Damaged
              </Button>
              {l.quarantined
                ? l.may_free && (
                    <Button
                      variant="outlined"
                      name="ask-freed"
                      aria-haspopup="dialog"
                      onClick={() => setAsked("freed")}
                    >
                      Free it
                    </Button>
                  )
                : null}
              {!l.quarantined && (
                <Button
                  variant="outlined"
                  name="ask-quarantined"
                  aria-haspopup="dialog"
                  onClick={() => setAsked("quarantined")}
                >
                  Quarantine
                </Button>
              )}
              <Button
                variant="outlined"
                name="ask-note"
                aria-haspopup="dialog"
                onClick={() => setAsked("note")}
              >
                Note
              </Button>
            </div>
          ) : (
            <p className="word-tell">
              Named at a pour and never received: its age cannot be told. Receive it under Stores by this
              code.
            </p>
          )}
          {l.certificates.map((c, i) => (
            <div key={i}>
              <span className="label">Certificate</span>
              <p>{(c.values ?? []).map((v) => `${v.name}: ${v.value}`).join(" · ")}</p>
              {c.paper && (
                <a href={`/api/v1/files/${c.paper.sha256}`} download>
                  {c.paper.name}
                </a>
              )}
            </div>
          ))}
        </div>
        <div className="see">
          <h2>Taken by batches</h2>
          {l.taken.length === 0 && <p className="slate">Nothing was poured from it yet.</p>}
          <div className="list" tabIndex={0}>
            <table className="rows">
              <tbody>
                {l.taken.map((t) => (
                  <tr key={t.batch}>
                    <td className="mono">{String(t.number).padStart(4, "0")}</td>
                    <td>
                      <Link to="/batches/$id" params={{ id: t.batch }} search={{ at: 2 }}>
                        {t.label}
                      </Link>
                    </td>
                    <td className="mono nowrap">{t.used.text}</td>
                    <td className="mono nowrap">{time(t.at)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <h2>Its book</h2>
          <div className="list" tabIndex={0}>
            <table className="rows">
              <tbody>
                {l.log.map((line) => (
                  <tr key={line.entry} className={line.struck ? "struck" : ""}>
                    <td className="mono nowrap">{time(line.at)}</td>
                    <td className="small">{line.by}</td>
                    <td>
                      {line.struck ? <s>{line.text}</s> : line.text}
                      {line.struck && <span className="slate small"> struck, {line.struck}</span>}
                    </td>
                    <td>
                      {line.may_strike && (
                        <button
                          type="button"
                          className="link"
                          aria-haspopup="dialog"
                          onClick={() => setStriking(line)}
                        >
                          Strike
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      </div>
      {asked && <AskDialog lot={id} asked={asked} close={() => setAsked(null)} />}
      {striking && <StrikeDialog lot={id} line={striking} close={() => setStriking(null)} />}
    </>
  );
}

function AskDialog({ lot, asked, close }: { lot: string; asked: Asked; close: () => void }) {
  const [title, action, field] = ASK[asked];
  const { keep, busy, refused } = useKeep(lot);
  const [text, setText] = useState("");
  const [paper, setPaper] = useState<Schemas["Attached"] | null>(null);
  const payload =
    asked === "certified"
      ? {
          // `gel time: 12 min, density: 1.25` — one value a line or between commas.
          values: text
            .split(/[\n,]/)
            .map((v) => v.split(":"))
            .filter((v) => (v[0] ?? "").trim() !== "")
            .map(([name, ...rest]) => ({ name: (name ?? "").trim(), value: rest.join(":").trim() })),
          paper,
        }
      : { [field]: text };
  const dry = useDryKeep(lot, asked, asked === "counted" && text.trim() ? payload : null);
  const refusals = refused?.fields ?? dry?.refusals;
  const error = at(field, refusals) ?? (refused && asked !== "counted" ? refused.detail : undefined);
  return (
    <FormDialog
      title={title}
      action={action}
      name="save-entry"
      busy={busy}
      submit={() => void keep(asked, payload).then((done) => done && close())}
      close={close}
    >
      {asked === "counted" ? (
        <Field
          name="left_g"
          label="Left of it"
          value={text}
          onChange={setText}
          understood={dry?.understood}
          error={error}
          autoFocus
        />
      ) : (
        <TextField
          label={asked === "moved" ? "To which place" : asked === "certified" ? "Values" : "In your words"}
          name={`entry-${field}`}
          value={text}
          multiline={asked === "certified"}
          minRows={asked === "certified" ? 3 : undefined}
          onChange={(e) => setText(e.target.value)}
          autoFocus
          error={Boolean(error)}
          helperText={
            error ??
            (asked === "certified" ? "gel time: 12 min, density: 1.25 kg/L" : "it stands in the book")
          }
          slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 2000 } }}
        />
      )}
      {asked === "certified" && (
        <FileField label="The paper" accept="application/pdf,image/png" taken={paper} take={setPaper} />
      )}
    </FormDialog>
  );
}

function StrikeDialog({ lot, line, close }: { lot: string; line: Schemas["LotLogLine"]; close: () => void }) {
  const { keep, busy, refused } = useKeep(lot);
  return (
    <AskReason
      title="Strike this entry"
      text={line.text}
      action="Strike it"
      hint="the line stays, struck"
      busy={busy}
      error={refused?.detail}
      submit={(reason) => void keep("strike", { entry: line.entry, reason }).then((done) => done && close())}
      close={close}
    />
  );
}
