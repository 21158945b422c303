// What is left of a pot goes to another batch of the same sheet.
import { useState } from "react";
import { Act } from "../../ui/Act";
import { Choice } from "../../ui/Choice";
import type { PotProps } from "./PotWork";
import { useHandOver } from "./useHandOver";

export function HandOver({ view, pot }: PotProps) {
  const hand = useHandOver(view.id, pot.id);
  const [to, setTo] = useState("");
  return (
    <div className="actions">
      <Choice
        name="hand-to"
        label="What is left goes to"
        value={to}
        set={setTo}
        options={[["", " "], ...view.mix.hand_to.map((h) => [h.id, h.label] as const)]}
      />
      <Act
        name="hand-over"
        word="Hand it over"
        needs={!to ? "choose the batch it goes to" : hand.isPending && "on its way"}
        press={() => hand.mutate(to)}
        quiet
      />
      {hand.error && <span className="refusal">{hand.error.message}</span>}
    </div>
  );
}
