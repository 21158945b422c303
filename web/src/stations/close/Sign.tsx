// The signatures of a batch: what stands against them, who gave them, what will stand on the card.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import { NoteDialog, ReasonDialog } from "../../batch/ReasonDialog";
import type { StationProps } from "../../batch/station";
import { shopTime, useElapsed } from "../../ui/clock";
import { Level } from "../../ui/Level";
import { CardPicture } from "../../ui/pictures/CardPicture";
import { RecoatLine } from "../../ui/RecoatLine";
import { Methods } from "../../acceptance/Methods";
import "../../acceptance/acceptance.css";
import { Deviations } from "./Deviations";

export function Sign({ view, go }: StationProps<"close"> & { go: (tab: "gauge" | "look") => void }) {
  const me = useQuery(meQuery).data;
  const zone = me?.zone ?? "UTC";
  const elapsed = useElapsed(view.received, me?.clock_rate ?? 1);
  const { write, refused } = useWrite(view.id);
  const [answering, setAnswering] = useState<Schemas["Deviation"] | null>(null);
  const [noting, setNoting] = useState(false);
  const [reopening, setReopening] = useState(false);
  const close = view.close;
  const signed = close.signature;
  const line = (s: Schemas["Signature"]) => `${s.by}, ${shopTime(s.at, zone, view.as_of)}`;
  return (
    <>
      <div className="do">
        <Deviations view={view} answer={setAnswering} />
        <span className="label">Signatures</span>
        <p id="sign-why">
          {signed ? (
            <>
              Work signed by <b>{line(signed)}</b>.
            </>
          ) : (
            (close.cannot_sign ??
            (close.alone ? "You work alone: your signature closes the card." : "You may sign the work."))
          )}
        </p>
        {signed && (
          <p id="accept-why">
            {close.acceptance ? (
              <>
                Accepted by <b>{line(close.acceptance)}</b>. The card is closed.
              </>
            ) : (
              (close.cannot_accept ?? "You may accept the work.")
            )}
          </p>
        )}
        <div className="actions">
          {!signed && (
            <Button
              variant="contained"
              name="sign"
              disabled={Boolean(close.cannot_sign)}
              aria-describedby="sign-why"
              onClick={() => void write("sign", { seen_seq: view.head_seq })}
            >
              Sign the work
            </Button>
          )}
          {signed && !close.acceptance && (
            <Button
              variant="contained"
              name="accept"
              disabled={Boolean(close.cannot_accept)}
              aria-describedby="accept-why"
              onClick={() => void write("accept", { seen_seq: view.head_seq })}
            >
              Accept the work
            </Button>
          )}
          <Button variant="outlined" name="close-note" aria-haspopup="dialog" onClick={() => setNoting(true)}>
            Write a note
          </Button>
          {close.can_reopen && (
            <Button
              variant="text"
              name="reopen"
              aria-haspopup="dialog"
              onClick={() => setReopening(true)}
              sx={{ color: "text.primary" }}
            >
              Reopen
            </Button>
          )}
        </div>
        {refused && (
          <p className="refusal" role="alert">
            {refused.detail}
          </p>
        )}
        <Link to="/batches/$id/card" params={{ id: view.id }}>
          {close.acceptance ? "Open the signed card to print it" : "See the card as it stands"}
        </Link>
      </div>
      <div className="see">
        {close.recoat && (
          <RecoatLine
            clock={close.recoat}
            elapsed={elapsed}
            title={close.recoat.other ? "Next coat:" : "Next coat may go on:"}
            zone={zone}
            asOf={view.as_of}
          >
            {!close.recoat.other && (
              <Link to="/begin" search={{ part: view.part_name }}>
                Begin its next coat
              </Link>
            )}
          </RecoatLine>
        )}
        <Methods methods={close.accept?.methods ?? []} go={go} />
        <span className="label">What will stand on the card</span>
        {!close.levels?.length && <CardPicture stations={view.stations} />}
        {close.levels?.map((level) => (
          <Level key={level.label} level={level} />
        ))}
        <p className="small slate hash mono">
          head {view.head_hash.slice(0, 24)}…, entry {view.head_seq}
        </p>
      </div>
      {answering && (
        <ReasonDialog
          view={view}
          title="Answer this deviation"
          text={answering.text}
          action="Answer"
          kind="answer"
          payload={(text) => ({ entry: answering.entry, code: answering.code, text })}
          close={() => setAnswering(null)}
        />
      )}
      {noting && <NoteDialog view={view} close={() => setNoting(false)} />}
      {reopening && (
        <ReasonDialog
          view={view}
          title="Reopen"
          text="This voids the signatures. They must be given again."
          action="Reopen"
          kind="reopen"
          payload={(reason) => ({ reason })}
          close={() => setReopening(false)}
        />
      )}
    </>
  );
}
