// Writing in the book of a lot or a place. The id is made when the form is armed and renewed after the answer.
import { useMutation, useQuery, useQueryClient, keepPreviousData } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { useDebounced } from "../api/entry";

type Payload = Record<string, unknown>;
const body = (id: string, kind: string, payload: Payload) => ({ id, kind, payload, ago_s: 0 }) as never;

/** Writes an entry; `lot` missing: a lot comes in. */
export function useKeep(lot?: string) {
  const client = useQueryClient();
  const armed = useRef(v7());
  const keep = useMutation({
    mutationFn: ({ kind, payload }: { kind: string; payload: Payload }) =>
      lot
        ? ask(
            api.POST("/api/v1/lots/{id}/entries", {
              params: { path: { id: lot }, query: {} },
              body: body(armed.current, kind, payload),
            }),
          )
        : ask(api.POST("/api/v1/lots", { params: { query: {} }, body: body(armed.current, kind, payload) })),
    onSuccess: () => {
      armed.current = v7();
      void client.invalidateQueries({ queryKey: ["lots"] });
    },
    onError: (e) => {
      // Silence keeps the id: the retry is the same entry.
      if (e instanceof Refused && e.problem.status !== 0) armed.current = v7();
    },
  });
  return {
    keep: (kind: string, payload: Payload) => keep.mutateAsync({ kind, payload }).catch(() => null),
    busy: keep.isPending,
    refused: keep.error instanceof Refused ? keep.error.problem : null,
    forget: keep.reset,
  };
}

/** What an entry would do, while it is typed. */
export function useDryKeep(lot: string | undefined, kind: string, payload: Payload | null) {
  const text = useDebounced(payload ? JSON.stringify(payload) : "");
  const query = useQuery({
    queryKey: ["dry-lot", lot ?? "new", kind, text],
    queryFn: () => {
      const entry = body(v7(), kind, JSON.parse(text) as Payload);
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
