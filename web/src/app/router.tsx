// The whole map of views. Every view is loaded when first opened.
import { createRootRoute, createRoute, createRouter, lazyRouteComponent } from "@tanstack/react-router";
import { Broken, Nowhere } from "../ui/states";
import { Shell } from "./Shell";

const root = createRootRoute({ component: Shell });

type At = { at?: number };
const station = (search: Record<string, unknown>): At => {
  const no = Number(search.at);
  return no >= 1 && no <= 6 ? { at: no } : {};
};

const routes = [
  createRoute({
    getParentRoute: () => root,
    path: "/",
    component: lazyRouteComponent(() => import("../board/BoardView"), "BoardView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/begin",
    validateSearch: (search: Record<string, unknown>): { part?: string } =>
      typeof search.part === "string" ? { part: search.part } : {},
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
    component: lazyRouteComponent(() => import("../batch/CardView"), "CardView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/sheets",
    component: lazyRouteComponent(() => import("../sheets/SheetsView"), "SheetsView"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/sheets/$id",
    component: lazyRouteComponent(() => import("../sheets/SheetEditor"), "SheetEditor"),
  }),
  createRoute({
    getParentRoute: () => root,
    path: "/records",
    component: lazyRouteComponent(() => import("../records/RecordsView"), "RecordsView"),
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
