// A check of the ratio: both streams caught together, and the pressure to move next.
import { Button } from "@mui/material";
import { useEntryForm } from "../../api/useEntryForm";
import { useKeys } from "../../app/keys";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { levelSaid, useSay } from "../../hands/say";
import { soundOf } from "../../hands/sounds";
import type { StationProps } from "../../batch/station";
import { EntryField } from "../../ui/EntryField";
import { stopwatch } from "../../ui/clock";
import { Level } from "../../ui/Level";
import { useScale } from "../../ui/ScaleChoice";
import { useStopwatch } from "../../ui/stopwatch";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Proofs } from "./Proofs";
import { TwoCups } from "./TwoCups";
import { Act } from "../../ui/Act";

const EMPTY = { a_g: "", b_g: "", caught_watch_s: "", a_kpa: "", b_kpa: "", lift_mm: "" };

export function RatioCheck({ view, charge }: StationProps<"prove"> & { charge: string }) {
  const scale = useScale("finest");
  const last = view.prove;
  const entry = useEntryForm(view.id, "ratio_check", EMPTY, {
    begin: {
      a_kpa: last.last_a?.text ?? "",
      b_kpa: last.last_b?.text ?? "",
      lift_mm: last.last_lift?.text ?? "",
    },
    // Pressures and lift stay as they were until somebody moves them.
    keep: (f) => ({ a_kpa: f.a_kpa, b_kpa: f.b_kpa, lift_mm: f.lift_mm }),
    then: (view) => soundOf(view.prove?.proofs[0]?.level),
    says: (f) =>
      f.a_g.trim() && f.b_g.trim() && scale.instrument
        ? { ...f, charge, instrument: scale.instrument }
        : null,
  });
  const watch = useStopwatch();
  const toggle = () => {
    const seconds = watch.toggle();
    if (seconds !== null) entry.put({ caught_watch_s: `${seconds.toFixed(1)} s` });
  };
  useKeys((key) => (key === "s" ? (toggle(), true) : false));
  useStamp(toggle);
  useAwake(watch.running);
  const prove = entry.view?.prove ?? view.prove;
  const newest = prove.proofs[0];
  useSay(() => (watch.running ? stopwatch(watch.seconds) : newest ? levelSaid(newest.level) : null));
  const f = { of: entry };
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <span className="label">Catch both streams, full trigger, the same time, clean tared cups</span>
        <div className="fields three">
          <EntryField {...f} name="a_g" label="Catch A" autoFocus />
          <EntryField {...f} name="b_g" label="Catch B" />
          {scale.choice}
        </div>
        <div className="fields four">
          <EntryField {...f} name="a_kpa" label="Pressure A" />
          <EntryField {...f} name="b_kpa" label="Pressure B" />
          <EntryField {...f} name="caught_watch_s" label="Time" hint="gives flow" />
          <EntryField {...f} name="lift_mm" label="Lift" hint="pot to gun" />
        </div>
        <div className="actions">
          <Act name="take-catch" word="Take this catch" needs={!entry.ready && "type what both cups weigh"} />
          <Button type="button" variant="outlined" name="stopwatch" onClick={toggle}>
            {watch.running ? `Stop · ${stopwatch(watch.seconds)}` : "Start the watch · s"}
          </Button>
        </div>
        {entry.stray && <p className="refusal">{entry.stray}</p>}
        <Proofs proofs={prove.proofs} />
      </form>
      <div className="see">
        {newest ? (
          <>
            <span className="label">{newest.title}</span>
            <Level level={newest.level} size="big" />
          </>
        ) : (
          <p className="slate">The ratio stands here with its interval once both cups are weighed.</p>
        )}
        {prove.advice && (
          <p className="advice" role="status">
            <b>{prove.advice.text}</b>
          </p>
        )}
        <TwoCups cups={prove.cups ?? null} moved={prove.advice ?? null} />
        {prove.advice && <WorkingSheet working={prove.advice.working} />}
        {newest && <WorkingSheet working={newest.working} last={prove.advice ? 1 : 3} />}
      </div>
    </>
  );
}
