// A film gauge that speaks: each reading it takes, as it takes it.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../api/client";

type Said = Schemas["GaugeSaid"];

/** The gauge whose readings come here now: one pressed before that is nobody's. `read` is called for each. Off while somebody else takes them. */
export function useGauge(read: (said: Said, gauge: Schemas["GaugeView"]) => void, on = true) {
  const gauges = useQuery({
    queryKey: ["film-gauges"],
    queryFn: () => ask(api.GET("/api/v1/film-gauges")),
    refetchInterval: (q) => (q.state.data?.length && !q.state.data.some((g) => g.heard) ? 3000 : 30_000),
  }).data;
  const gauge = gauges?.find((g) => g.heard);
  const name = gauge?.name;
  const [listens, setListens] = useState(false);
  const latest = useRef(read);
  const known = useRef(gauge);
  useEffect(() => {
    latest.current = read;
    known.current = gauge;
  });
  useEffect(() => {
    if (!name || !on) return;
    const source = new EventSource(`/api/v1/film-gauges/readings?gauge=${encodeURIComponent(name)}`);
    source.addEventListener("open", () => setListens(true));
    source.addEventListener("error", () => setListens(false));
    source.addEventListener("film", (e) => {
      const said = JSON.parse(String((e as MessageEvent).data)) as Said;
      if (known.current) latest.current(said, known.current);
    });
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
      setListens(false);
    };
  }, [name, on]);
  return listens ? gauge : undefined;
}
