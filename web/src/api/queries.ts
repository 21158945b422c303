// Server state, only through these. `received` is this browser's monotonic clock at the answer.
import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, ask, type Schemas } from "./client";
import { steady } from "../ui/steady";

async function stamped<T extends object>(call: Promise<T>) {
  const data = await call;
  return { ...data, received: steady() };
}

/** Milliseconds until the first pot or item changes state by itself; at most half a minute. */
function untilChange(pots: { changes_s?: number | null }[] | undefined, rate: number) {
  const seconds = (pots ?? [])
    .map((p) => p.changes_s)
    .filter((s): s is number => s !== null && s !== undefined);
  const soonest = Math.min(30, ...seconds) / Math.max(rate, 0.001);
  return Math.min(30_000, Math.max(500, soonest * 1000 + 50));
}

export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: () => stamped(ask(api.GET("/api/v1/session"))),
  retry: false,
  staleTime: 60_000,
});
/** What a page is told before anyone is signed in. */
export const doorQuery = queryOptions({
  queryKey: ["door"],
  queryFn: () => ask(api.GET("/api/v1/door")),
});
export const shopQuery = queryOptions({
  queryKey: ["shop"],
  queryFn: () => ask(api.GET("/api/v1/shop")),
});
export const firstStepsQuery = queryOptions({
  queryKey: ["shop", "first-steps"],
  queryFn: () => ask(api.GET("/api/v1/shop/first-steps")),
});
export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => ask(api.GET("/api/v1/people")),
});
export const keptQuery = queryOptions({
  queryKey: ["people", "kept"],
  queryFn: () => ask(api.GET("/api/v1/people/kept")),
});
export const sessionsQuery = queryOptions({
  queryKey: ["sessions"],
  queryFn: () => ask(api.GET("/api/v1/sessions")),
});
export const boardQuery = queryOptions({
  queryKey: ["board"],
  queryFn: () => stamped(ask(api.GET("/api/v1/board"))),
  refetchInterval: (q) => untilChange(q.state.data?.pots, q.state.data?.clock_rate ?? 1),
});
/** A batch at one station. */
export const batchQuery = (id: string, station: Schemas["StationName"], rate = 1) =>
  queryOptions({
    queryKey: ["batch", id, station],
    queryFn: () =>
      stamped(ask(api.GET("/api/v1/batches/{id}", { params: { path: { id }, query: { station } } }))),
    // From one station to the next its head stays where it is.
    placeholderData: (before) => (before?.id === id ? before : undefined),
    // The rate of shop time came with the person; a batch's own answer does not repeat it.
    refetchInterval: (q) => {
      const items = q.state.data?.ready?.groups.flatMap((g) => g.items) ?? [];
      return untilChange([...(q.state.data?.pots ?? []), ...items], rate);
    },
  });
export const logQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id, "log"],
    queryFn: () => ask(api.GET("/api/v1/batches/{id}/log", { params: { path: { id } } })),
  });
export const defectsQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id, "defects"],
    queryFn: () => ask(api.GET("/api/v1/batches/{id}/defects", { params: { path: { id } } })),
  });
export const storyQuery = (id: string) =>
  queryOptions({
    queryKey: ["parts", id, "story"],
    queryFn: () => ask(api.GET("/api/v1/parts/{id}/story", { params: { path: { id } } })),
  });
/** What can be traced, as it stands in the address. */
export const TRACE_ASKS = ["lot", "part", "rig", "scale", "person", "day", "span"] as const;
export type TraceAsks = Partial<Record<(typeof TRACE_ASKS)[number], string>>;
export const traceQuery = (asks: TraceAsks) =>
  queryOptions({
    queryKey: ["trace", asks],
    queryFn: () => {
      const { span, ...rest } = asks;
      const query = { ...rest, ...(span ? { span: Number(span) } : {}) };
      return ask(api.GET("/api/v1/trace", { params: { query } }));
    },
  });
export const rigsQuery = queryOptions({
  queryKey: ["rigs"],
  queryFn: () => ask(api.GET("/api/v1/rigs")),
});
export const rigQuery = (id: string) =>
  queryOptions({
    queryKey: ["rigs", id],
    queryFn: () => ask(api.GET("/api/v1/rigs/{id}", { params: { path: { id } } })),
  });
export const rigFormsQuery = queryOptions({
  queryKey: ["rig-forms"],
  queryFn: () => ask(api.GET("/api/v1/rig-places")),
  staleTime: Infinity,
});
export const piecesQuery = queryOptions({
  queryKey: ["rigs", "pieces"],
  queryFn: () => ask(api.GET("/api/v1/pieces")),
});
export const tipsQuery = queryOptions({
  queryKey: ["tips"],
  queryFn: () => ask(api.GET("/api/v1/tips")),
});
export const scalesQuery = queryOptions({
  queryKey: ["scales"],
  queryFn: () => ask(api.GET("/api/v1/scales")),
  refetchInterval: 5000,
});
export const labelsQuery = (of: string) =>
  queryOptions({
    queryKey: ["labels", of],
    queryFn: () => ask(api.GET("/api/v1/labels", { params: { query: { of } } })),
  });
export const cardQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id, "card"],
    queryFn: () => ask(api.GET("/api/v1/batches/{id}/card", { params: { path: { id } } })),
  });
export const sheetsQuery = queryOptions({
  queryKey: ["sheets"],
  queryFn: () => ask(api.GET("/api/v1/sheets")),
});
export const sheetQuery = (id: string) =>
  queryOptions({
    queryKey: ["sheets", id],
    queryFn: () => ask(api.GET("/api/v1/sheets/{id}", { params: { path: { id } } })),
  });
export const proposedQuery = (part: string, coat: string, sheet: string) =>
  queryOptions({
    queryKey: ["proposed", part, coat, sheet],
    queryFn: () =>
      ask(
        api.GET("/api/v1/batches/proposed", {
          params: { query: { part, coat, ...(sheet ? { sheet } : {}) } },
        }),
      ),
    staleTime: 10_000,
    placeholderData: keepPreviousData,
  });
export const probesQuery = queryOptions({
  queryKey: ["probes"],
  queryFn: () => ask(api.GET("/api/v1/probes")),
  refetchInterval: 5_000,
});
export type FindLots = {
  find?: string;
  sheet?: string;
  version?: string;
  component?: string;
  place?: string;
  state?: string;
};
export const lotsQuery = (find: FindLots) =>
  queryOptions({
    queryKey: ["lots", find],
    queryFn: () => ask(api.GET("/api/v1/lots", { params: { query: { ...find } } })),
  });
/** What the stores are asked by. */
export const LOT_ASKS = ["find", "sheet", "component", "state", "sort"] as const;
export type LotAsks = Partial<Record<(typeof LOT_ASKS)[number], string>>;
export const lotPagesQuery = (find: FindLots) =>
  infiniteQueryOptions({
    queryKey: ["lots", "pages", find],
    queryFn: ({ pageParam }) =>
      ask(api.GET("/api/v1/lots", { params: { query: { ...find, after: pageParam } } })),
    initialPageParam: "",
    getNextPageParam: (page) => page.next ?? undefined,
  });
export const lotQuery = (id: string) =>
  queryOptions({
    queryKey: ["lots", "one", id],
    queryFn: () => ask(api.GET("/api/v1/lots/{id}", { params: { path: { id } } })),
  });
export const placesQuery = queryOptions({
  queryKey: ["lots", "places"],
  queryFn: () => ask(api.GET("/api/v1/places")),
  refetchInterval: 15_000,
});
export const listsQuery = queryOptions({ queryKey: ["lists"], queryFn: () => ask(api.GET("/api/v1/lists")) });
export const partQuery = (id: string) =>
  queryOptions({
    queryKey: ["parts", id],
    queryFn: () => stamped(ask(api.GET("/api/v1/parts/{id}", { params: { path: { id } } }))),
  });
export const pairsQuery = queryOptions({
  queryKey: ["parts", "pairs"],
  queryFn: () => ask(api.GET("/api/v1/pairs")),
});
export const curvesQuery = (id: string, edition: number) =>
  queryOptions({
    queryKey: ["sheets", id, "curves", edition],
    queryFn: () => ask(api.GET("/api/v1/sheets/{id}/curves", { params: { path: { id } } })),
  });
/** Kinds of product; they change with the program alone. */
export const sheetKindsQuery = queryOptions({
  queryKey: ["sheets", "kinds"],
  queryFn: () => ask(api.GET("/api/v1/sheets/kinds")),
  staleTime: Infinity,
});
export const schoolsQuery = queryOptions({
  queryKey: ["schools"],
  queryFn: () => ask(api.GET("/api/v1/sheets/schools")),
  staleTime: Infinity,
});
/** Parts of one page of the server. */
const PARTS = 100;
/** The newest parts of that name, for a field. */
export const partsQuery = (find: string) =>
  queryOptions({
    queryKey: ["parts", "named", find],
    queryFn: () => ask(api.GET("/api/v1/parts", { params: { query: { find } } })),
    placeholderData: keepPreviousData,
  });
export const partPagesQuery = (find: string) =>
  infiniteQueryOptions({
    queryKey: ["parts", "pages", find],
    queryFn: ({ pageParam }) =>
      ask(
        api.GET("/api/v1/parts", { params: { query: { find, ...(pageParam ? { after: pageParam } : {}) } } }),
      ),
    initialPageParam: "",
    getNextPageParam: (page) => (page.length < PARTS ? undefined : page.at(-1)?.id),
    placeholderData: keepPreviousData,
  });
export const instrumentsQuery = queryOptions({
  queryKey: ["instruments"],
  queryFn: () => ask(api.GET("/api/v1/instruments")),
  staleTime: 300_000,
});
/** What the records are asked by. */
export const FINDS = ["find", "part", "product", "lot", "person", "from", "to", "weeks", "sort"] as const;
export type Find = Record<(typeof FINDS)[number], string>;
export const recordsQuery = (find: Find) =>
  infiniteQueryOptions({
    queryKey: ["records", find],
    queryFn: ({ pageParam }) =>
      ask(api.GET("/api/v1/records", { params: { query: { ...find, after: pageParam } } })),
    initialPageParam: "",
    getNextPageParam: (page) => page.next ?? undefined,
  });
export const TREND_BYS = ["product", "rig", "person"] as const;
export type TrendBy = (typeof TREND_BYS)[number];
/** What finished batches came to, week by week. */
export const trendsQuery = (find: Find, by: TrendBy) =>
  queryOptions({
    queryKey: ["records", "trends", find, by],
    queryFn: () => ask(api.GET("/api/v1/records/trends", { params: { query: { ...find, by } } })),
    retry: false,
  });
/** What the reader asks of the records again and again. */
export const viewsQuery = queryOptions({
  queryKey: ["records-views"],
  queryFn: () => ask(api.GET("/api/v1/records/views")),
});
/** Signed statements over the books; for the owner. */
export const checkpointsQuery = queryOptions({
  queryKey: ["checkpoints"],
  queryFn: () => ask(api.GET("/api/v1/checkpoints")),
});
/** Which checkpoint covers a signed card. */
export const cardCheckpointQuery = (id: string) =>
  queryOptions({
    queryKey: ["batch", id, "checkpoint"],
    queryFn: () => ask(api.GET("/api/v1/batches/{id}/checkpoint", { params: { path: { id } } })),
  });
/** The end of the day. */
export const dayEndQuery = queryOptions({
  queryKey: ["board", "day-end"],
  queryFn: () => ask(api.GET("/api/v1/board/day-end")),
  refetchInterval: 60_000,
});
export const findQuery = (q: string) =>
  queryOptions({
    queryKey: ["find", q],
    queryFn: () => ask(api.GET("/api/v1/find", { params: { query: { q } } })),
    enabled: q.trim() !== "",
    retry: false,
  });
