// The pour in hand as the scale tells it: a stream of its own while the station is open.
import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";

export type Weighing = Schemas["Weighing"];

export function useWeighIn(book: string, charge: string, scale: string | undefined) {
  const [said, setSaid] = useState<Weighing | null>(null);
  useEffect(() => {
    if (!scale) return;
    const source = new EventSource(
      `/api/v1/batches/${book}/charges/${charge}/weigh-in?scale=${encodeURIComponent(scale)}`,
    );
    source.addEventListener("weigh", (e) =>
      setSaid(JSON.parse(String((e as MessageEvent).data)) as Weighing),
    );
    source.onerror = () => setSaid(null);
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
      setSaid(null);
    };
  }, [book, charge, scale]);
  return said;
}
