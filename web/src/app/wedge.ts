// A wedge scanner types like a keyboard, faster than any hand, and ends with Enter. Where no field has the focus, its line
// goes to the finder; in a field it is typed there, as it should be.
import { useEffect, useRef } from "react";
import { scannedUntil, SCANNER_MS } from "./keys";

/** Fewer keys than this are somebody at the keyboard. */
const LEAST = 6;

export function useWedge(take: (line: string) => void) {
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    let line = "";
    let last = 0;
    const listen = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [contenteditable]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey) {
        line = "";
        return;
      }
      const fast = e.timeStamp - last <= SCANNER_MS;
      last = e.timeStamp;
      if (e.key === "Enter") {
        const whole = fast && line.length >= LEAST ? line : "";
        line = "";
        if (fast) scannedUntil.timeStamp = e.timeStamp;
        if (whole) {
          // The Enter of a scanner presses no button.
          e.preventDefault();
          e.stopPropagation();
          latest.current(whole);
        }
      } else if (e.key.length === 1) {
        line = fast ? line + e.key : e.key;
      }
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, []);
}
