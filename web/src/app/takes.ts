// What is open may take a scanned thing instead of having it opened: a lot where a lot is wanted, a part where one is begun.
import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";

/** True: it was taken. */
type Take = (row: Schemas["FoundRow"]) => boolean;

const takers = new Set<{ current: Take }>();

export function useTakes(take: Take) {
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    takers.add(latest);
    return () => void takers.delete(latest);
  }, []);
}

export const taken: Take = (row) => [...takers].some((taker) => taker.current(row));
