// Which rig this coat is sprayed with, and what is looked at before any pressure.
import { Link } from "@tanstack/react-router";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useWrite } from "../../api/entry";
import { rigsQuery } from "../../api/queries";
import { useTakes } from "../../app/takes";
import type { StationProps } from "../../batch/station";
import { RigDrawing } from "../../rigs/RigDrawing";
import { Choice } from "../../ui/Choice";
import { Guide } from "./Guide";
import { Act } from "../../ui/Act";

/** The line of any rig, before one is there to draw. */
const OF_ANY = ["supply", "regulator", "vessel", "hose", "gun", "nozzle"].map((is) => ({
  is,
  name: "",
  facts: "",
}));

export function ChooseRig({ view, chosen }: StationProps<"set"> & { chosen: () => void }) {
  const rigs = useQuery(rigsQuery).data?.filter((r) => !r.retired);
  const { write, refused } = useWrite(view.id);
  const [rig, setRig] = useState("");
  const here = rig || view.set.rig || rigs?.[0]?.id || "";
  const taken = here === view.set.rig && !view.set.rig_proposed;
  const seen = rigs?.find((r) => r.id === here);
  useTakes((row) => {
    if (row.is === "rig") setRig(row.id);
    return row.is === "rig";
  });
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void write("choose_rig", { rig: here }).then((ok) => ok && chosen());
        }}
      >
        <span className="label">Which rig sprays this coat?</span>
        {rigs?.length === 0 ? (
          <p className="slate">
            No rig is kept. <Link to="/rigs">Keep one</Link>, and its pressures are reckoned; tries can be
            taken without.
          </p>
        ) : (
          <div className="actions">
            <Choice
              name="rig"
              label="Rig"
              value={here}
              set={setRig}
              hint=" "
              options={(rigs ?? []).map((r) => [r.id, r.rig.name] as const)}
            />
            <Act
              name="choose-rig"
              word={taken ? "Chosen" : "Take this rig"}
              needs={!here ? "choose a rig" : taken && "this one is on the batch"}
            />
          </div>
        )}
        {refused && <p className="refusal">{refused.detail}</p>}
        {taken && (
          <>
            <span className="label">Before any pressure, and up to the stream</span>
            <Guide view={view} />
          </>
        )}
      </form>
      <div className="see">
        <RigDrawing points={(here === view.set.rig ? view.set.points : seen?.points) ?? OF_ANY} brief />
        {(here === view.set.rig ? view.set.troubles : (seen?.troubles ?? [])).map((t) => (
          <p key={t} className="word-tell">
            {t}
          </p>
        ))}
      </div>
    </>
  );
}
