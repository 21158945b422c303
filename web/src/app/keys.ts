// Keys of the whole application. They never fire while typing.
import { useEffect, useRef } from "react";

export const KEYS: [string, string][] = [
  ["1 – 6", "stations of the open batch"],
  ["n", "new entry of this station"],
  ["p", "stamp a pass"],
  ["s", "stopwatch of the catch: start, stop"],
  ["h", "hear the live figure"],
  ["/", "find anything"],
  ["b", "board"],
  ["?", "this list"],
];

/** Longest pause between two keys of a scanner, in milliseconds; a hand is slower. */
export const SCANNER_MS = 40;

/** The last Enter that followed a key at the speed of a scanner: what was typed before it was a code and is no key of the page. */
export const scannedUntil = { timeStamp: -1 };

/** A key waits a little longer than a scanner does, so that the Enter behind it is seen first. */
const WAITS_MS = SCANNER_MS + 20;

/** A key acts once no other follows at the speed of a scanner: a scanned code stamps no pass and opens no station. */
export function useKeys(act: (key: string) => boolean) {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    let pending: ReturnType<typeof setTimeout> | undefined;
    const listen = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      const typing = target.closest("input, textarea, select, [contenteditable]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      clearTimeout(pending);
      if (e.key.length !== 1) return;
      // Some browsers have a search of their own behind it.
      if (e.key === "/") e.preventDefault();
      pending = setTimeout(() => {
        if (e.timeStamp > scannedUntil.timeStamp) latest.current(e.key);
      }, WAITS_MS);
    };
    window.addEventListener("keydown", listen);
    return () => {
      window.removeEventListener("keydown", listen);
      clearTimeout(pending);
    };
  }, []);
}
