// Writing in the book of a lot or a place. The id is made when the form is armed and renewed after the answer.
import { useMutation, useQuery, useQueryClient, keepPreviousData } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 } from "uuid";
import { answered, api, ask, Refused, type Schemas } from "../api/client";
import { useDebounced } from "../api/entry";

type LotEntry = Schemas["NewLotEntry"];
type Kind = LotEntry["kind"];
export type LotPayload<K extends Kind> = Extract<LotEntry, { kind: K }>["payload"];
type Said = Pick<LotEntry, "kind" | "payload">;
// A kind and its payload came together, and stay together.
const body = (id: string, said: Said) => ({ id, ...said, ago_s: 0 }) as LotEntry;

/** Writes an entry; `lot` missing: a lot comes in. */
export function useKeep(lot?: string) {
  const client = useQueryClient();
  const armed = useRef(v7());
  const keep = useMutation({
    mutationFn: (said: Said) =>
      lot
        ? ask(
            api.POST("/api/v1/lots/{id}/entries", {
              params: { path: { id: lot }, query: {} },
              body: body(armed.current, said),
            }),
          )
        : ask(api.POST("/api/v1/lots", { params: { query: {} }, body: body(armed.current, said) })),
    onSuccess: () => {
      armed.current = v7();
      void client.invalidateQueries({ queryKey: ["lots"] });
    },
    onError: (e) => {
      // Silence keeps the id: the retry is the same entry.
      if (answered(e)) armed.current = v7();
    },
  });
  return {
    keep: <K extends Kind>(kind: K, payload: LotPayload<K>) =>
      keep.mutateAsync({ kind, payload }).catch(() => null),
    busy: keep.isPending,
    refused: keep.error instanceof Refused ? keep.error.problem : null,
    forget: keep.reset,
  };
}

/** What an entry would do, while it is typed. */
export function useDryKeep<K extends Kind>(lot: string | undefined, kind: K, payload: LotPayload<K> | null) {
  const text = useDebounced(payload ? JSON.stringify(payload) : "");
  const query = useQuery({
    queryKey: ["dry-lot", lot ?? "new", kind, text],
    queryFn: () => {
      const entry = body(v7(), { kind, payload: JSON.parse(text) as LotPayload<K> });
      return lot
        ? ask(
            api.POST("/api/v1/lots/{id}/entries", {
              params: { path: { id: lot }, query: { dry_run: true } },
              body: entry,
            }),
          )
        : ask(api.POST("/api/v1/lots", { params: { query: { dry_run: true } }, body: entry }));
    },
    enabled: text !== "",
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  return text === "" || !payload ? undefined : (query.data as Schemas["Stored"] | undefined);
}
