// A stopwatch on the monotonic clock: what a hand starts and stops, in real seconds.
import { useEffect, useState } from "react";
import { steady } from "./steady";

export function useStopwatch() {
  const [since, setSince] = useState<number | null>(null);
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (since === null) return;
    const timer = setInterval(() => setNow(steady()), 200);
    return () => clearInterval(timer);
  }, [since]);
  /** Starts it, or stops it and gives the seconds. */
  const toggle = (): number | null => {
    const at = steady();
    if (since === null) {
      setNow(at);
      setSince(at);
      return null;
    }
    setSince(null);
    return (at - since) / 1000;
  };
  return { running: since !== null, seconds: since === null ? 0 : Math.max(0, now - since) / 1000, toggle };
}
