// The item in hand: how it is done, and one primary action of its kind.
import { Button, TextField } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { at, useDry, useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { stopwatch } from "../../ui/clock";
import { Field } from "../../ui/Field";
import { FileField } from "../../ui/FileField";
import { Mark, said, type Item } from "./ReadyLists";
import { TakeLot } from "./TakeLot";

type Props = StationProps<"ready"> & { item: Item; elapsed: number; after: () => void };

export function InHand({ view, item, elapsed, after }: Props) {
  return (
    <div className={`check-hand ${item.state}`}>
      <div className="check-title">
        <Mark item={item} />
        <b>{item.text}</b>
        <span className="small nowrap">{said(item, elapsed)}</span>
      </div>
      {item.hint && <p className="small">{item.hint}</p>}
      {item.what.kind === "lot" ? (
        <TakeLot view={view} item={item} after={after} />
      ) : (
        <Act view={view} item={item} elapsed={elapsed} after={after} />
      )}
      {item.by && <p className="small slate">{item.released ? item.released : `${item.line}, ${item.by}`}</p>}
    </div>
  );
}

function Act({ view, item, elapsed, after }: Props) {
  const { write, refused } = useWrite(view.id);
  const [text, setText] = useState("");
  const [read, setRead] = useState("");
  const [photo, setPhoto] = useState<Schemas["Attached"] | null>(null);
  const what = item.what;
  const dry = useDry(
    view.id,
    "tick",
    what.kind === "profile" && read.trim() ? { item: item.key, did: "done", read_um: read } : null,
  );
  const tick = (did: Schemas["Did"]) =>
    void write("tick", {
      item: item.key,
      did,
      ...(text.trim() ? { text } : {}),
      ...(read.trim() ? { read_um: read } : {}),
      ...(photo ? { photo } : {}),
    }).then((ok) => ok && after());
  // `waits`: the id of the words beside it that say what it waits for.
  const button =
    (variant: "contained" | "outlined", name: string) =>
    (word: string, did: Schemas["Did"], waits?: string | false) => (
      <Button
        variant={variant}
        name={`${name}-${item.key}`}
        disabled={Boolean(waits)}
        aria-describedby={waits || undefined}
        onClick={() => tick(did)}
      >
        {word}
      </Button>
    );
  const unnamed = (!view.can_release || text.trim() === "") && "sample-helper-text";
  const primary = button("contained", "do");
  const quiet = button("outlined", "fail");
  const refusal = refused && <span className="refusal">{refused.detail}</span>;
  switch (what.kind) {
    case "test":
      return (
        <div className="actions">
          {primary("Good", "done")}
          {quiet(what.fails.charAt(0).toUpperCase() + what.fails.slice(1), "failed")}
          {refusal}
        </div>
      );
    case "profile":
      return (
        <div className="actions">
          <Field
            name="read_um"
            label="Profile read"
            value={read}
            onChange={setRead}
            hint="what the gauge or the tape reads"
            understood={dry?.understood}
            error={at("read_um", refused?.fields ?? dry?.refusals)}
            autoFocus
          />
          {primary("Take it", "done", read.trim() === "" && "field-read_um-helper-text")}
        </div>
      );
    case "timer":
      return typeof item.ran_s === "number" ? (
        <div className="actions">
          <span className="live mono">{stopwatch(item.ran_s + elapsed)}</span>
          {primary("Stop", "stop")}
          {refusal}
        </div>
      ) : (
        <div className="actions">
          {primary(item.at ? "Start anew" : "Start", "start")}
          {refusal}
        </div>
      );
    case "approve":
      return (
        <div style={{ display: "grid", gap: 8 }}>
          <TextField
            label="Control sample"
            name="sample"
            id="sample"
            value={text}
            onChange={(e) => setText(e.target.value)}
            disabled={!view.can_release}
            helperText={
              view.can_release ? "which one it was compared with" : "a lead or the owner approves this"
            }
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 200 } }}
          />
          <FileField label="Photo" accept="image/png,image/jpeg" taken={photo} take={setPhoto} />
          <div className="actions">
            {primary("Approve and sign", "done", unnamed)}
            {quiet("Not approved", "failed", unnamed)}
            {refusal}
          </div>
        </div>
      );
    case "good_for":
      return (
        <div className="actions">
          {primary(item.at ? "Done anew, just now" : "Done, just now", "done")}
          {refusal}
        </div>
      );
    default:
      return (
        <div className="actions">
          {primary("Done", "done")}
          {quiet("Not right", "failed")}
          {refusal}
        </div>
      );
  }
}
