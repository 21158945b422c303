// The whole map of views. Every view is loaded when first opened.
import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  redirect,
} from "@tanstack/react-router";
import {
  FINDS,
  LOT_ASKS,
  TRACE_ASKS,
  type Find,
  type LotAsks,
  type TraceAsks,
  TREND_BYS,
  type TrendBy,
} from "../api/queries";
import { asksOf, type Asks } from "../ui/table";
import { Broken, Nowhere } from "../ui/states";
import { Shell } from "./Shell";

const root = createRootRoute({ component: Shell });

type At = { at?: number; entry?: string };
const station = (search: Record<string, unknown>): At => {
  const no = Number(search.at);
  return {
    ...(no >= 1 && no <= 6 ? { at: no } : {}),
    // An entry of its log that is to be shown.
    ...(typeof search.entry === "string" ? { entry: search.entry } : {}),
  };
};
/** What a batch begins with, where another page knows it already. */
const BEGINS = ["part", "coat", "sheet", "zones", "area", "repairs"] as const;
type Begins = Partial<Record<(typeof BEGINS)[number], string>>;

const routes = [
  createRoute({
    getParentRoute: () => root,
    path: "/",
    validateSearch: (search: Record<string, unknown>): Asks & { mine?: boolean; tonight?: boolean } => ({
      ...asksOf(search),
      ...(search.mine === true ? { mine: true } : {}),
      ...(search.tonight === true ? { tonight: true } : {}),
    }),
    component: lazyRouteComponent(() => import("../board/BoardView"), "BoardView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/begin",
    validateSearch: (search: Record<string, unknown>): Begins =>
      Object.fromEntries(
        BEGINS.flatMap((name) => (typeof search[name] === "string" ? [[name, search[name]]] : [])),
      ),
    component: lazyRouteComponent(() => import("../batch/BeginView"), "BeginView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/batches/$id",
    validateSearch: station,
    component: lazyRouteComponent(() => import("../batch/BatchPage"), "BatchPage"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/batches/$id/card",
    component: lazyRouteComponent(() => import("../stations/close/CardView"), "CardView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/jobs/$id",
    component: lazyRouteComponent(() => import("../stations/close/JobPaper"), "JobPaper"),
  }),
  // Addresses on labels: a pot opens where it is sprayed from, a rig among the rigs.
  createRoute({
    getParentRoute: () => root,
    path: "/batches/$id/pots/$pot",
    beforeLoad: ({ params }) => {
      throw redirect({ to: "/batches/$id", params: { id: params.id }, search: { at: 5 }, replace: true });
    },
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/rigs/$id",
    beforeLoad: ({ params }) => {
      throw redirect({ to: "/rigs", search: { rig: params.id }, replace: true });
    },
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/stores",
    validateSearch: (search: Record<string, unknown>): LotAsks =>
      Object.fromEntries(
        LOT_ASKS.flatMap((name) => (typeof search[name] === "string" ? [[name, search[name]]] : [])),
      ),
    component: lazyRouteComponent(() => import("../stores/StoresView"), "StoresView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/stores/import",
    component: lazyRouteComponent(() => import("../stores/ImportView"), "ImportView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/labels",
    validateSearch: (search: Record<string, unknown>): { of?: string; paper?: string } => ({
      ...(typeof search.of === "string" ? { of: search.of } : {}),
      ...(typeof search.paper === "string" ? { paper: search.paper } : {}),
    }),
    component: lazyRouteComponent(() => import("../labels/LabelsView"), "LabelsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/stores/$id",
    component: lazyRouteComponent(() => import("../stores/LotView"), "LotView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/parts",
    validateSearch: asksOf,
    component: lazyRouteComponent(() => import("../parts/PartsView"), "PartsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/parts/$id",
    component: lazyRouteComponent(() => import("../parts/PartView"), "PartView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/lists",
    component: lazyRouteComponent(() => import("../lists/ListsView"), "ListsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/sheets",
    validateSearch: asksOf,
    component: lazyRouteComponent(() => import("../sheets/SheetsView"), "SheetsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/sheets/$id",
    component: lazyRouteComponent(() => import("../sheets/SheetEditor"), "SheetEditor"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/rigs",
    validateSearch: (search: Record<string, unknown>): { rig?: string; look?: "shut" | "care" } => ({
      ...(typeof search.rig === "string" ? { rig: search.rig } : {}),
      ...(search.look === "shut" || search.look === "care" ? { look: search.look } : {}),
    }),
    component: lazyRouteComponent(() => import("../rigs/RigsView"), "RigsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/records",
    validateSearch: (search: Record<string, unknown>): Partial<Find> & { trends?: TrendBy } => ({
      ...Object.fromEntries(
        FINDS.flatMap((name) => {
          const asked = search[name];
          return typeof asked === "string" || typeof asked === "number" ? [[name, String(asked)]] : [];
        }),
      ),
      ...TREND_BYS.flatMap((by) => (search.trends === by ? [{ trends: by }] : [])).at(0),
    }),
    component: lazyRouteComponent(() => import("../records/RecordsView"), "RecordsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/trace",
    validateSearch: (search: Record<string, unknown>): TraceAsks =>
      Object.fromEntries(
        TRACE_ASKS.flatMap((name) => {
          const asked = search[name];
          return typeof asked === "string" || typeof asked === "number" ? [[name, String(asked)]] : [];
        }),
      ),
    component: lazyRouteComponent(() => import("../trace/TraceView"), "TraceView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/people",
    component: lazyRouteComponent(() => import("../people/PeopleView"), "PeopleView"),
  }),
] as const;

export const router = createRouter({
  routeTree: root.addChildren([...routes]),
  // A view that breaks says so in its own place; the rack and the way back stay.
  defaultErrorComponent: Broken,
  defaultNotFoundComponent: Nowhere,
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
