// A pot is proved as it is weighed: its ratio with the interval its scale leaves, and what would settle a doubt.
import type { StationProps } from "../../batch/station";
import { Level } from "../../ui/Level";
import { OnTheScale } from "../../ui/pictures/OnTheScale";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Proofs } from "./Proofs";
import { Settling } from "./Settling";

export function AsWeighed({ view }: StationProps<"prove">) {
  const newest = view.prove.proofs[0];
  return (
    <>
      <div className="do">
        <p className="slate">
          A pot is proved as it is weighed: base and hardener on the scale, each reading with what its scale
          may be off.
          {!newest && " Weigh both at Mix; the ratio stands here then."}
        </p>
        <Settling settling={view.prove.settling ?? null} />
        <Proofs proofs={view.prove.proofs} />
      </div>
      <div className="see">
        {newest ? (
          <>
            <span className="label">{newest.title}</span>
            <Level level={newest.level} size="big" />
            <WorkingSheet working={newest.working} last={5} />
          </>
        ) : (
          <>
            <OnTheScale />
            <p className="small slate">The ratio stands here with its interval once something is weighed.</p>
          </>
        )}
      </div>
    </>
  );
}
