// Before the first catch: both components are loaded.
import { Button } from "@mui/material";
import { useState } from "react";
import { v7 } from "uuid";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { CatchGuide } from "./CatchGuide";
import { Proofs } from "./Proofs";
import { TwoCups } from "./TwoCups";

export function LoadTheGun({ view }: StationProps<"prove">) {
  const [charge] = useState(() => v7());
  const { write, refused } = useWrite(view.id);
  const start = view.prove.start;
  return (
    <>
      <div className="do">
        <span className="label">Loading the gun</span>
        <p>Load both components: supplies set, outlets wiped, two clean cups tared.</p>
        {start && (
          <p className="advice" role="status">
            <b>{start.text}</b>
          </p>
        )}
        <div className="actions">
          <Button
            variant="contained"
            name="open-at-gun"
            onClick={() => void write("open_charge", { charge, kind: "at_gun", wanted_ml: view.need.text })}
          >
            The gun is loaded
          </Button>
        </div>
        {refused && <p className="refusal">{refused.detail}</p>}
        <Proofs proofs={view.prove.proofs} />
      </div>
      <div className="see">
        <TwoCups cups={null} moved={null} />
        <CatchGuide neverPool={view.prove.never_pool ?? false} bySetting={view.prove.by_setting ?? false} />
      </div>
    </>
  );
}
