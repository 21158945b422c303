// Ready: conditions read by hand or from the probes, the lists in the order of the hands, the guards by hazard.
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { useEntryForm } from "../../api/useEntryForm";
import { called, useWords } from "../../api/forms";
import { meQuery } from "../../api/queries";
import { Conditions, EMPTY } from "./Conditions";
import { Guards } from "./Guards";
import { HistoryPicture } from "./HistoryPicture";
import { ReadyLists } from "./ReadyLists";
import { useElapsed } from "../../ui/clock";
import { Level } from "../../ui/Level";
import { DewPicture } from "../../ui/pictures/DewPicture";
import { RecoatLine } from "../../ui/RecoatLine";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { JobLine } from "../../batch/JobLine";
import type { StationProps } from "../../batch/station";

/** How the gate looks; what it is called comes with the words. */
const LOOKS: Record<Schemas["Gate"], string> = { go: "word-in", hold: "word-tell", stop: "word-out" };

export function ReadyStation({ view }: StationProps<"ready">) {
  const entry = useEntryForm(view.id, "conditions", EMPTY, {
    says: (f) => (Object.values(f).some((v) => v.trim() !== "") ? f : null),
    full: (f) => Object.values(f).every((v) => v.trim() !== ""),
  });
  const ready = entry.view?.ready ?? view.ready;
  const me = useQuery(meQuery).data;
  const elapsed = useElapsed(view.received, me?.clock_rate ?? 1);
  const gate = ready.gate;
  const words = useWords();
  return (
    <>
      <div className="do">
        <JobLine view={view} />
        <Conditions view={view} entry={entry} elapsed={elapsed} />
        <div className="list checks">
          <ReadyLists view={view} elapsed={elapsed} />
          <Guards view={view} />
          {view.ready.beneath && (
            <RecoatLine
              clock={view.ready.beneath}
              elapsed={elapsed}
              title="The coat beneath:"
              zone={me?.zone ?? "UTC"}
              asOf={view.as_of}
            />
          )}
          {view.ready.prepare && <p className="small slate">Between the two coats: {view.ready.prepare}</p>}
        </div>
      </div>
      <div className="see">
        {gate ? (
          <div style={{ display: "flex", gap: 22, alignItems: "baseline" }}>
            <span className={`live ${LOOKS[gate]}`}>{called(words.gate, gate)}</span>
            <span>
              {ready.may_fall && ready.gate === "go" ? (
                <>
                  the surface may still fall <b className="mono nowrap">{ready.may_fall.text}</b>
                </>
              ) : (
                <>
                  dew point <b className="mono nowrap">{ready.dew_point?.text}</b>
                </>
              )}
              {entry.view ? (
                <span className="slate"> as typed, not taken yet</span>
              ) : (
                ready.old && <b className="word-tell"> read too long ago</b>
              )}
            </span>
          </div>
        ) : (
          <>
            <span className="label">Nothing is read yet</span>
            <DewPicture />
          </>
        )}
        {ready.levels.slice(0, 1).map((l) => (
          <Level key={l.label} level={l} size="big" />
        ))}
        {ready.history && <HistoryPicture history={ready.history} zone={me?.zone ?? "UTC"} />}
        {ready.levels.slice(1).map((l) => (
          <Level key={l.label} level={l} />
        ))}
        {ready.not_applicable.map((text) => (
          <p key={text} className="small slate">
            {text}
          </p>
        ))}
        <WorkingSheet working={ready.working} />
      </div>
    </>
  );
}
