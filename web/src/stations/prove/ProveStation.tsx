// Prove: a pot as it was weighed, or two catches at full trigger and the pressure to move next.
import { Button } from "@mui/material";
import { useState } from "react";
import { v7 } from "uuid";
import { useWrite } from "../../api/entry";
import { Level } from "../../ui/Level";
import { OnTheScale } from "../../ui/pictures/OnTheScale";
import { WorkingSheet } from "../../ui/WorkingSheet";
import type { StationProps } from "../../batch/station";
import { Proofs } from "./Proofs";
import { RatioCheck } from "./RatioCheck";
import { TwoCups } from "./TwoCups";

export function ProveStation({ view }: StationProps<"prove">) {
  const [charge] = useState(() => v7());
  const { write, refused } = useWrite(view.id);
  // Catches belong to the charge on the gun, or the one waiting for it.
  const live = view.prove.charge;
  if (!view.hardened)
    return (
      <>
        <div className="do">
          <p>This product has no second component: there is no ratio to prove.</p>
        </div>
        <div className="see">
          <OnTheScale single />
        </div>
      </>
    );
  if (live && view.prove.by_catch) return <RatioCheck view={view} charge={live} />;
  const newest = view.prove.proofs[0];
  return (
    <>
      <div className="do">
        {view.prove.by_catch ? (
          <>
            <span className="label">Loading the gun</span>
            <p>Load both components: supplies set, outlets wiped, two clean cups tared.</p>
            <div className="actions">
              <Button
                variant="contained"
                name="open-at-gun"
                onClick={() =>
                  void write("open_charge", { charge, kind: "at_gun", wanted_ml: view.need.text })
                }
              >
                The gun is loaded
              </Button>
            </div>
          </>
        ) : (
          <p className="slate">
            A pot is proved as it is weighed: base and hardener on the scale, each reading with what its scale
            may be off.
            {!newest && " Weigh both at Mix; the ratio stands here then."}
          </p>
        )}
        {refused && <p className="refusal">{refused.detail}</p>}
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
            {view.prove.by_catch ? <TwoCups cups={null} moved={null} /> : <OnTheScale />}
            <p className="small slate">The ratio stands here with its interval once something is weighed.</p>
          </>
        )}
      </div>
    </>
  );
}
