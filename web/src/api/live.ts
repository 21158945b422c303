// Live updates: one stream a browser. It carries ids only; whoever hears one reads the state again.
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { progress, serverAnswers } from "./client";

export function useLive(signedIn: boolean) {
  const client = useQueryClient();
  useEffect(() => {
    if (!signedIn) return;
    const readAgain = () =>
      client.invalidateQueries({
        predicate: (q) =>
          ["board", "batch", "records", "lots", "parts", "rigs"].includes(String(q.queryKey[0])),
      });
    let source: EventSource | null = null;
    const open = () => {
      if (source) return;
      source = new EventSource("/api/v1/live");
      source.addEventListener("changed", (e) => {
        const said = String((e as MessageEvent).data);
        // How far an import is: it changes nothing yet.
        if (said.startsWith("import:")) progress.set(said);
        else void readAgain();
      });
      source.onopen = () => {
        serverAnswers.set(true);
        void readAgain();
      };
      source.onerror = () => serverAnswers.set(false);
    };
    // While nothing answers it is asked for, so that everything is read again as soon as something does.
    const asking = setInterval(() => {
      if (serverAnswers.get()) return;
      void fetch("/healthz", { signal: AbortSignal.timeout(1500) })
        .then((r) => (r.ok ? readAgain() : undefined))
        .catch(() => undefined);
    }, 2000);
    // A page kept by the browser for "back" would keep its stream: a few of them use up every connection.
    const close = () => {
      source?.close();
      source = null;
    };
    open();
    window.addEventListener("pagehide", close);
    window.addEventListener("pageshow", open);
    return () => {
      clearInterval(asking);
      window.removeEventListener("pagehide", close);
      window.removeEventListener("pageshow", open);
      close();
    };
  }, [client, signedIn]);
}
