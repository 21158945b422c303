// The rig a station opened on: named as proposed until the first figure takes it, or another is chosen.
import type { StationProps } from "../../batch/station";
import { useWrite } from "../../api/entry";

/** Takes the proposed rig with the first figure that is written through it. */
export function useRigTaken(view: StationProps<"set">["view"]) {
  const { write, refused } = useWrite(view.id);
  const { rig, rig_proposed } = view.set;
  const before =
    rig && rig_proposed ? () => write("choose_rig", { rig }).then((ok) => ok !== null) : undefined;
  return { before, refused: refused?.detail ?? null };
}

export function RigLine({ view, another }: StationProps<"set"> & { another: () => void }) {
  const set = view.set;
  if (!set.rig_proposed) return null;
  return (
    <p className="rig-proposed">
      With <b>{set.rig_name}</b>, {set.rig_proposed}.{" "}
      <button type="button" className="link" name="another-rig" onClick={another}>
        Another rig
      </button>
    </p>
  );
}
