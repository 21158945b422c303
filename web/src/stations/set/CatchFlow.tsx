// A catch by stopwatch and scale or cup: it tells the flow, and so how thick this paint really is. A flow cup tells it too.
import { Button } from "@mui/material";
import { offered, useWords } from "../../api/forms";
import { useEntryForm } from "../../api/useEntryForm";
import { useKeys } from "../../app/keys";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { useSay } from "../../hands/say";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import { stopwatch } from "../../ui/clock";
import { useStopwatch } from "../../ui/stopwatch";
import { CatchPicture } from "../../ui/pictures/CatchPicture";
import { Modelled } from "./Modelled";
import { RigLine, useRigTaken } from "./RigLine";
import { Act } from "../../ui/Act";

const EMPTY = { pot_kpa: "", caught_g: "", caught_ml: "", caught_watch_s: "" };
const CUP: { cup: Schemas["FlowCup"]; run_cup_s: string } = { cup: "ford4", run_cup_s: "" };

export function CatchFlow({ view, toRig }: StationProps<"set"> & { toRig: () => void }) {
  const words = useWords();
  const last = view.set.set_ups[view.set.set_ups.length - 1];
  const taken = useRigTaken(view);
  const flow = useEntryForm(view.id, "flow_catch", EMPTY, {
    before: taken.before,
    begin: { pot_kpa: last?.pot?.text ?? "" },
    keep: (f) => ({ pot_kpa: f.pot_kpa }),
    says: (f) =>
      f.pot_kpa.trim() && f.caught_watch_s.trim() && (f.caught_g.trim() || f.caught_ml.trim())
        ? {
            pot_kpa: f.pot_kpa,
            caught_watch_s: f.caught_watch_s,
            caught_g: f.caught_g || null,
            caught_ml: f.caught_ml || null,
          }
        : null,
  });
  const cup = useEntryForm(view.id, "cup_run", CUP, {
    keep: (f) => ({ cup: f.cup }),
    says: (f) => (f.run_cup_s.trim() ? f : null),
  });
  const seen = flow.view?.set?.modelled ?? cup.view?.set?.modelled ?? view.set.modelled;
  return (
    <>
      <form className="do" onSubmit={flow.submit}>
        <span className="label">Full trigger into a tared cup, air off, by the watch</span>
        <Stopwatch take={(caught_watch_s) => flow.put({ caught_watch_s })} />
        <div className="fields">
          <EntryField of={flow} name="pot_kpa" label="At this pressure" />
          <EntryField of={flow} name="caught_watch_s" label="Caught for" />
          <EntryField of={flow} name="caught_g" label="Weighed" hint="or measured" />
          <EntryField of={flow} name="caught_ml" label="Measured" />
        </div>
        <div className="actions">
          <Act
            name="take-catch"
            word="Take this catch"
            needs={
              view.set.rig
                ? !flow.ready && "type the pressure, the time, and what was caught"
                : "choose the rig first: its hose and nozzle are reckoned with"
            }
          />
          {(flow.stray ?? taken.refused) && <span className="refusal">{flow.stray ?? taken.refused}</span>}
        </div>
        <span className="label">Or a flow cup, at the paint’s own temperature</span>
        <div className="actions">
          <EntryChoice of={cup} name="cup" label="Cup" options={offered(words.flow_cup)} />
          <EntryField of={cup} name="run_cup_s" label="It ran for" />
          <Act
            name="take-cup"
            word="Take it"
            needs={(!cup.ready || Boolean(cup.error("run_cup_s"))) && "type how long it ran"}
            press={() => void cup.take()}
            quiet
          />
        </div>
      </form>
      <div className="see">
        <RigLine view={view} another={toRig} />
        {seen ? (
          <Modelled modelled={seen} />
        ) : (
          <>
            <CatchPicture />
            <p className="small slate">What is caught at one pressure tells what every other gives.</p>
          </>
        )}
      </div>
    </>
  );
}

/** Start and stop by hand, foot or key; what it ran goes into the field. */
function Stopwatch({ take }: { take: (seconds: string) => void }) {
  const watch = useStopwatch();
  const press = () => {
    const ran = watch.toggle();
    if (ran !== null) take(`${ran.toFixed(1)} s`);
  };
  useKeys((key) => (key === "s" ? (press(), true) : false));
  useStamp(press);
  useAwake(watch.running);
  useSay(() => stopwatch(watch.seconds));
  return (
    <div className="actions">
      <Button variant="outlined" size="large" name="stopwatch" onClick={press} sx={{ minWidth: 160 }}>
        {watch.running ? "Stop · s" : "Start · s"}
      </Button>
      <span className="live mono">{stopwatch(watch.seconds)}</span>
    </div>
  );
}
