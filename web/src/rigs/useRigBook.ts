// Writing in the book of a rig. The id is armed with the entry and renewed after an answer: a double tap is one entry.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 } from "uuid";
import { answered, api, ask, Refused, type Schemas } from "../api/client";
import { inTurn } from "../api/turns";

type RigEntry = Schemas["NewRigEntry"];
export type RigKind = RigEntry["kind"];
export type RigPayload<K extends RigKind> = Extract<RigEntry, { kind: K }>["payload"];
type Said = Pick<RigEntry, "kind" | "payload">;

export function useRigBook(id: string) {
  const client = useQueryClient();
  const armed = useRef(new Map<string, string>());
  const mutation = useMutation({
    mutationFn: async (said: Said) => {
      const { kind, payload } = said;
      const key = `${kind} ${JSON.stringify(payload)}`;
      const entry = armed.current.get(key) ?? v7();
      armed.current.set(key, entry);
      try {
        const now = await ask(
          api.POST("/api/v1/rigs/{id}/entries", {
            params: { path: { id } },
            // A kind and its payload came together, and stay together.
            body: { id: entry, ...said, ago_s: 0 } as RigEntry,
          }),
        );
        armed.current.delete(key);
        return now;
      } catch (e) {
        // An answer uses the id up; silence keeps it for the retry.
        if (answered(e)) armed.current.delete(key);
        throw e;
      }
    },
    onSuccess: async (now) => {
      client.setQueryData(["rigs", id], now);
      await client.invalidateQueries({ queryKey: ["rigs"] });
    },
  });
  return {
    say: <K extends RigKind>(kind: K, payload: RigPayload<K>) =>
      inTurn(id, `${kind} ${JSON.stringify(payload)}`, () =>
        mutation.mutateAsync({ kind, payload }).catch(() => null),
      ),
    busy: mutation.isPending,
    refused: mutation.error instanceof Refused ? mutation.error.problem : null,
    forget: mutation.reset,
  };
}
