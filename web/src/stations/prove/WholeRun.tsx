// The whole run: both supplies weighed before and after; its ratio beside the catches, and where the paint went.
import { Button } from "@mui/material";
import { useState } from "react";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";
import { EntryField } from "../../ui/EntryField";
import { Level } from "../../ui/Level";
import { useScale } from "../../ui/ScaleChoice";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { SuppliesPicture } from "./SuppliesPicture";

const SUPPLY = { before: "", after: "", added: "", purged: "", returned: "" };
const EMPTY = Object.fromEntries(
  (["a", "b"] as const).flatMap((side) => Object.keys(SUPPLY).map((what) => [`${side}_${what}`, ""])),
) as Record<`${"a" | "b"}_${keyof typeof SUPPLY}`, string>;

export function WholeRun({ view }: StationProps<"prove">) {
  const scale = useScale("bench");
  const [more, setMore] = useState(false);
  const charge = view.prove.charge ?? view.prove.last_charge;
  const entry = useEntryForm(view.id, "whole_run", EMPTY, {
    says: (f) => {
      const supply = (side: "a" | "b") => ({
        before_g: f[`${side}_before`],
        after_g: f[`${side}_after`],
        added_g: f[`${side}_added`] || null,
        purged_g: f[`${side}_purged`] || null,
        returned_g: f[`${side}_returned`] || null,
      });
      const typed = [f.a_before, f.a_after, f.b_before, f.b_after].every((t) => t.trim());
      return typed && charge && scale.instrument
        ? { charge, a: supply("a"), b: supply("b"), instrument: scale.instrument }
        : null;
    },
  });
  const run = entry.view?.prove?.run ?? view.prove.run;
  const field = (side: "a" | "b", what: keyof typeof SUPPLY, label: string) => (
    <EntryField of={entry} name={`${side}_${what}`} path={`${side}.${what}_g`} label={label} />
  );
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <span className="label">Weigh both supplies before the run and after it, on one scale</span>
        {(["a", "b"] as const).map((side) => (
          <div key={side} className="fields three">
            {field(side, "before", `${side.toUpperCase()} before`)}
            {field(side, "after", `${side.toUpperCase()} after`)}
            {side === "a" ? (
              scale.choice
            ) : (
              <Button type="button" variant="outlined" name="purged" onClick={() => setMore(!more)}>
                {more ? "Less" : "Purged, returned"}
              </Button>
            )}
          </div>
        ))}
        {more &&
          (["a", "b"] as const).map((side) => (
            <div key={side} className="fields three">
              {field(side, "purged", `${side.toUpperCase()} purged`)}
              {field(side, "returned", `${side.toUpperCase()} back in its can`)}
              {field(side, "added", `${side.toUpperCase()} filled in`)}
            </div>
          ))}
        <div className="actions">
          <Act
            name="take-run"
            word="Take this run"
            needs={!charge ? "load the gun first" : !entry.ready && "type all four weights"}
          />
          {entry.stray && <span className="refusal">{entry.stray}</span>}
        </div>
        {run && <p>{run.account}</p>}
      </form>
      <div className="see">
        {run ? (
          <>
            <Level level={run.level} size="big" />
            {run.catches && <Level level={run.catches} />}
            <p className={run.agreement === "agree" ? "" : "word-tell"}>{run.text}</p>
            <WorkingSheet working={run.working} />
          </>
        ) : (
          <>
            <SuppliesPicture />
            <p className="small slate">
              The more goes through, the surer the ratio of the run: its doubt falls as one over its mass.
            </p>
          </>
        )}
      </div>
    </>
  );
}
