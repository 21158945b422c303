// What a try shows: the stream as an arc, where the pressure goes, the set-ups that were good before.
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import type { useEntryForm } from "../../api/useEntryForm";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Reckoned } from "./Modelled";
import { LadderPicture } from "./LadderPicture";
import { Presets } from "./Presets";
import { Patterns } from "./Patterns";
import { RigLine } from "./RigLine";
import type { SetUpTexts } from "./SetUps";
import { StreamPicture } from "./StreamPicture";

type Props = StationProps<"set"> & {
  entry: ReturnType<typeof useEntryForm<"set_up", SetUpTexts>>;
  seen: Schemas["SetView"];
  stream: Schemas["SetView"]["stream"];
  tap: (mm: number) => void;
  takeOver: (good: Schemas["Preset"]) => void;
  toRig: () => void;
};

export function SetUpSeen({ view, entry, seen, stream, tap, takeOver, toRig }: Props) {
  const set = view.set;
  const bursts = set.set_ups.some((t) => t.pattern_is);
  const air = entry.form.atomizing_kpa.trim() !== "";
  const patterns = (
    <Patterns of={set.patterns} value={entry.form.pattern} set={(pattern) => entry.put({ pattern })} />
  );
  return (
    <div className="see">
      <RigLine view={view} another={toRig} />
      {set.ladder ? (
        <>
          <span className="label">Tap what the burst looks like</span>
          {patterns}
          {bursts && (
            <>
              <span className="label">Bursts so far</span>
              <LadderPicture set={seen} />
            </>
          )}
        </>
      ) : !set.pressed ? (
        <>
          <span className="label">Tap what the burst looks like</span>
          {patterns}
        </>
      ) : (
        <>
          {air && patterns}
          <span className="label">The stream, band {set.school}</span>
          <StreamPicture set={seen} stream={stream ?? null} tap={tap} />
        </>
      )}
      {seen.modelled && (
        <>
          <span className="label">Reckoned: where the pressure goes</span>
          <Reckoned modelled={seen.modelled} />
        </>
      )}
      {seen.wall && <p>{seen.wall}</p>}
      <Presets presets={seen.presets} take={takeOver} />
      {!seen.modelled && <WorkingSheet working={stream?.working} />}
      {!set.rig && (
        <p className="slate">
          <button type="button" className="link" name="to-rig" onClick={toRig}>
            Choose the rig
          </button>
          , and what each pressure gives is reckoned beside what is seen.
        </p>
      )}
      {set.rig && set.pressed && !seen.modelled && !set.ladder && (
        <p className="slate">
          The sheet states no viscosity. Run a flow cup or catch a flow: then what each pressure gives is
          reckoned.
        </p>
      )}
    </div>
  );
}
