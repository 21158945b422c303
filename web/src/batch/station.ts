// What every station gets: the batch as it is seen with the panel of that station, and this browser's monotonic clock at the
// answer. The station it stands in is known to every form under it: a dry run is answered for that station alone.
import { createContext } from "react";
import type { BatchView, Schemas } from "../api/client";

export type StationName = Schemas["StationName"];
export const STATION_NAMES: StationName[] = ["ready", "mix", "set", "prove", "spray", "close"];

/** A batch with the panels named. */
export type Seen<S extends StationName = never> = BatchView & { received: number } & {
  [K in S]: NonNullable<BatchView[K]>;
};
export type StationProps<S extends StationName = never> = { view: Seen<S> };

/** The station a form stands in; null: none, and no panel is wanted in an answer. */
export const AtStation = createContext<StationName | null>(null);
