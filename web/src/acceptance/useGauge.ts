// A film gauge that speaks: each reading it takes, as it takes it.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, ask, type Schemas } from "../api/client";

type Said = Schemas["GaugeSaid"];

/** The gauge that is heard now; `read` is called for every reading from now on. */
export function useGauge(read: (said: Said, gauge: Schemas["GaugeView"]) => void) {
  const gauges = useQuery({
    queryKey: ["film-gauges"],
    queryFn: () => ask(api.GET("/api/v1/film-gauges")),
    refetchInterval: (q) => (q.state.data?.length && !q.state.data.some((g) => g.heard) ? 3000 : 30_000),
  }).data;
  const gauge = gauges?.find((g) => g.heard);
  const name = gauge?.name;
  const latest = useRef(read);
  const known = useRef(gauge);
  useEffect(() => {
    latest.current = read;
    known.current = gauge;
  });
  useEffect(() => {
    if (!name) return;
    const source = new EventSource(`/api/v1/film-gauges/readings?gauge=${encodeURIComponent(name)}`);
    source.addEventListener("film", (e) => {
      const said = JSON.parse(String((e as MessageEvent).data)) as Said;
      if (known.current) latest.current(said, known.current);
    });
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
    };
  }, [name]);
  return gauge;
}
