// What to look at next: the one observation that parts the two causes that lead, answered with yes or no.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useWrite } from "../api/entry";
import type { StationProps } from "../batch/station";
import { Act } from "../ui/Act";
import { Words } from "../ui/Words";

export function LookNext({
  view,
  defect,
  next,
}: StationProps<"close"> & { defect: string; next: Schemas["NextLookSeen"] }) {
  const { write, busy, refused } = useWrite(view.id);
  const [text, setText] = useState("");
  const answer = (yes: boolean) =>
    void write("defect_look", { defect, look: next.look, yes, text: text.trim() || null });
  const needs = busy && "it is being written";
  return (
    <div className="look-next">
      <div>
        <span className="label">Look next</span>
        <p>
          <b>{next.question}</b>
        </p>
        <p className="small slate">{next.why}</p>
      </div>
      <Words name="look-seen" label="What is seen" value={text} set={setText} most={2000} />
      <div className="actions">
        <Act name="look-yes" word="Yes" needs={needs} press={() => answer(true)} />
        <Act name="look-no" word="No" quiet needs={needs} press={() => answer(false)} />
        {refused && <span className="refusal">{refused.detail}</span>}
      </div>
    </div>
  );
}
