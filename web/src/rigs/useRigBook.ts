// Writing in the book of a rig. The id is armed with the entry and renewed after an answer: a double tap is one entry.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { inTurn } from "../api/turns";

export function useRigBook(id: string) {
  const client = useQueryClient();
  const armed = useRef(new Map<string, string>());
  const mutation = useMutation({
    mutationFn: async ({ kind, payload }: { kind: string; payload: object }) => {
      const key = `${kind} ${JSON.stringify(payload)}`;
      const entry = armed.current.get(key) ?? v7();
      armed.current.set(key, entry);
      try {
        const now = await ask(
          api.POST("/api/v1/rigs/{id}/entries", {
            params: { path: { id } },
            body: { id: entry, kind, payload, ago_s: 0 } as never,
          }),
        );
        armed.current.delete(key);
        return now;
      } catch (e) {
        // An answer uses the id up; silence keeps it for the retry.
        if (e instanceof Refused && e.problem.status !== 0) armed.current.delete(key);
        throw e;
      }
    },
    onSuccess: async (now) => {
      client.setQueryData(["rigs", id], now);
      await client.invalidateQueries({ queryKey: ["rigs"] });
    },
  });
  return {
    say: (kind: string, payload: object) =>
      inTurn(id, `${kind} ${JSON.stringify(payload)}`, () =>
        mutation.mutateAsync({ kind, payload }).catch(() => null),
      ),
    busy: mutation.isPending,
    refused: mutation.error instanceof Refused ? mutation.error.problem : null,
    forget: mutation.reset,
  };
}
