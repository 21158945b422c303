// The ledger of a rig and product: of the batch at hand, or of a rig by itself.
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, ask } from "../api/client";

export type LedgerOf = { batch: string } | { rig: string; sheet?: string | undefined };

export const ledgerQuery = (of: LedgerOf, skip: number, all: boolean) =>
  queryOptions({
    queryKey: ["batch", "ledger", of, skip, all],
    queryFn: () =>
      "batch" in of
        ? ask(
            api.GET("/api/v1/batches/{id}/ledger", {
              params: { path: { id: of.batch }, query: { skip, all } },
            }),
          )
        : ask(
            api.GET("/api/v1/rigs/{id}/ledger", {
              params: { path: { id: of.rig }, query: { skip, all, sheet: of.sheet ?? null } },
            }),
          ),
    placeholderData: keepPreviousData,
  });
