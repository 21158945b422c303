// A check of the ratio: both streams caught together, and the pressure or setting to move next.
import { useState } from "react";
import { useEntryForm } from "../../api/useEntryForm";
import { levelSaid, useSay } from "../../hands/say";
import { soundOf } from "../../hands/sounds";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";
import { EntryField } from "../../ui/EntryField";
import { Level } from "../../ui/Level";
import { useScale } from "../../ui/ScaleChoice";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { CatchGuide } from "./CatchGuide";
import { useCatchWatch } from "./Countdown";
import { CupsOnScale } from "./CupsOnScale";
import { Proofs } from "./Proofs";
import { Settling } from "./Settling";
import { TwoCups } from "./TwoCups";

const EMPTY = { a_g: "", b_g: "", caught_watch_s: "", a_kpa: "", b_kpa: "", lift_mm: "", setting_count: "" };

export function RatioCheck({ view, charge }: StationProps<"prove"> & { charge: string }) {
  const scale = useScale("finest");
  // The scale that spoke is the one it was weighed on.
  const [spoke, setSpoke] = useState("");
  const last = view.prove;
  const machine = last.by_setting ?? false;
  const entry = useEntryForm(view.id, "ratio_check", EMPTY, {
    begin: {
      a_kpa: last.last_a?.text ?? "",
      b_kpa: last.last_b?.text ?? "",
      lift_mm: last.last_lift?.text ?? "",
      setting_count: last.last_setting?.figure ?? "",
    },
    // Pressures, setting and lift stay as they were until somebody moves them.
    keep: (f) => ({ a_kpa: f.a_kpa, b_kpa: f.b_kpa, lift_mm: f.lift_mm, setting_count: f.setting_count }),
    then: (view) => {
      setSpoke("");
      soundOf(view.prove?.proofs[0]?.level);
    },
    says: (f) =>
      f.a_g.trim() && f.b_g.trim() && (spoke || scale.instrument)
        ? { ...f, charge, instrument: spoke || scale.instrument }
        : null,
  });
  const watch = useCatchWatch((caught_watch_s) => entry.put({ caught_watch_s }));
  const prove = entry.view?.prove ?? view.prove;
  const newest = prove.proofs[0];
  useSay(() => watch.said ?? (newest ? levelSaid(newest.level) : null));
  const f = { of: entry };
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <div className="actions">
          {watch.buttons}
          <CupsOnScale
            take={({ a_g, b_g, instrument }) => {
              setSpoke(instrument);
              entry.put({ a_g, b_g });
            }}
          />
        </div>
        <div className="fields three">
          <EntryField {...f} name="a_g" label="Catch A" autoFocus />
          <EntryField {...f} name="b_g" label="Catch B" />
          {scale.choice}
        </div>
        {machine ? (
          <div className="fields">
            <EntryField {...f} name="setting_count" label="Catalyst setting" hint="its mark, as it stands" />
            <EntryField {...f} name="caught_watch_s" label="Time" hint="gives flow" />
          </div>
        ) : (
          <div className="fields four">
            <EntryField {...f} name="a_kpa" label="Pressure A" />
            <EntryField {...f} name="b_kpa" label="Pressure B" />
            <EntryField {...f} name="caught_watch_s" label="Time" hint="gives flow" />
            <EntryField {...f} name="lift_mm" label="Lift" hint="pot to gun" />
          </div>
        )}
        <div className="actions">
          <Act name="take-catch" word="Take this catch" needs={!entry.ready && "type what both cups weigh"} />
        </div>
        {entry.stray && <p className="refusal">{entry.stray}</p>}
        {(prove.slips ?? []).map((slip) => (
          <p key={slip} className="slip" role="status">
            {slip}
          </p>
        ))}
        <Proofs proofs={prove.proofs} />
      </form>
      <div className="see">
        {newest ? (
          <>
            <span className="label">{newest.title}</span>
            <Level level={newest.level} size="big" />
          </>
        ) : (
          <>
            {prove.start && (
              <p className="advice" role="status">
                <b>{prove.start.text}</b>
              </p>
            )}
            <CatchGuide neverPool={prove.never_pool ?? false} bySetting={machine} />
          </>
        )}
        {prove.advice && (
          <p className="advice" role="status">
            <span>
              <b>{prove.advice.text}</b>
              {prove.advice.other && <span className="small slate"> {prove.advice.other}</span>}
            </span>
          </p>
        )}
        <Settling settling={prove.settling ?? null} />
        {prove.due && <p className={prove.due.overdue ? "word-out" : "slate"}>{prove.due.text}</p>}
        <TwoCups cups={prove.cups ?? null} moved={prove.advice ?? null} />
        {prove.advice && <WorkingSheet working={prove.advice.working} />}
        {newest && <WorkingSheet working={newest.working} last={prove.advice ? 1 : 3} />}
      </div>
    </>
  );
}
