// The screen stays awake while something runs that is watched and not touched. Browsers allow it on https and on this machine.
import { useEffect } from "react";

export const canStayAwake = () => "wakeLock" in navigator;

export function useAwake(runs: boolean) {
  useEffect(() => {
    if (!runs || !canStayAwake()) return;
    let held: WakeLockSentinel | undefined;
    let over = false;
    // The browser lets go when the page is hidden; it is asked again when the page is back.
    const ask = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock.request("screen").then(
        (lock) => {
          if (over) void lock.release();
          else held = lock;
        },
        // A battery that is low may forbid it: the screen then goes dark as it is set to.
        () => undefined,
      );
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", ask);
      void held?.release();
    };
  }, [runs]);
}
