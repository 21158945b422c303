// What is left of a pot goes to another batch of the same sheet: both books at once.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask } from "../../api/client";
import { Act } from "../../ui/Act";
import { Choice } from "../../ui/Choice";
import type { PotProps } from "./PotWork";

export function HandOver({ view, pot }: PotProps) {
  const client = useQueryClient();
  const id = useRef(v7());
  const [to, setTo] = useState("");
  const hand = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/books/{id}/hand-over", {
          params: { path: { id: view.id } },
          body: { id: id.current, charge: pot.id, to_batch: to },
        }),
      ),
    onSuccess: async () => {
      id.current = v7();
      await client.invalidateQueries({ queryKey: ["batch"] });
      await client.invalidateQueries({ queryKey: ["board"] });
    },
    onError: () => (id.current = v7()),
  });
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
        press={() => hand.mutate()}
        quiet
      />
      {hand.error && <span className="refusal">{hand.error.message}</span>}
    </div>
  );
}
