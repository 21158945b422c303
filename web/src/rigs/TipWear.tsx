// How worn a tip is: what it lets through now beside what it let through when it was new, on the level.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { filledOf } from "../api/compute";
import { emptying } from "../api/turns";
import { Asked } from "../ui/Asked";
import { Level } from "../ui/Level";
import { WorkingSheet } from "../ui/WorkingSheet";
import { useRigBook } from "./useRigBook";
import { WearPicture } from "./WearPicture";
import { Act } from "../ui/Act";

const EMPTY = { pot_kpa: "", caught_ml: "", caught_watch_s: "" };

export function TipWear({ rig }: { rig: Schemas["RigView"] }) {
  const [form, setForm] = useState(EMPTY);
  const { say, refused } = useRigBook(rig.id);
  const filled = filledOf(form);
  const field = (name: keyof typeof EMPTY, label: string, hint?: string) => (
    <Asked form={form} set={setForm} name={name} label={label} hint={hint} refusals={refused?.fields} />
  );
  return (
    <form
      className="tip-wear"
      onSubmit={(e) => {
        e.preventDefault();
        void emptying(form, EMPTY, setForm, say("tip_flow", form));
      }}
    >
      {rig.wear && (
        <>
          <Level level={rig.wear.level} size="big" />
          <WearPicture wear={rig.wear} />
          <p className="small">
            New {rig.wear.new.text} at {rig.wear.new_at.text}, now {rig.wear.now.text} at{" "}
            {rig.wear.now_at.text}.
          </p>
          <WorkingSheet working={rig.wear.working} last={1} />
        </>
      )}
      <span className="label">What the tip lets through: the first catch is its measure when new</span>
      <div className="fields three">
        {field("pot_kpa", "Pump at")}
        {field("caught_ml", "Caught")}
        {field("caught_watch_s", "In", "by the watch, as 15 s")}
      </div>
      <div className="actions">
        <Act
          name="take-tip-flow"
          word="Take this flow"
          needs={Object.keys(filled).length < 3 && "type all three"}
          quiet
        />
        {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        {!rig.wear && <span className="slate">Two catches, weeks apart, tell how it wears.</span>}
      </div>
    </form>
  );
}
