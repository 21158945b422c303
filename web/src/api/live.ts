// Live updates: one stream a browser. It carries ids only; whoever hears one reads the state again.
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

export function useLive(signedIn: boolean) {
  const client = useQueryClient();
  const [online, setOnline] = useState(true);
  useEffect(() => {
    if (!signedIn) return;
    const source = new EventSource("/api/v1/live");
    const readAgain = () =>
      client.invalidateQueries({
        predicate: (q) => ["board", "batch", "records"].includes(String(q.queryKey[0])),
      });
    source.addEventListener("changed", () => void readAgain());
    source.onopen = () => {
      setOnline(true);
      void readAgain();
    };
    source.onerror = () => setOnline(false);
    return () => source.close();
  }, [client, signedIn]);
  return online;
}
