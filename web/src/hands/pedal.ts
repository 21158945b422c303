// A foot switch: it types one key, which is told to this browser once. It does what the hand would press at this station.
import { useEffect } from "react";
import { latestOf } from "./latest";

const KEY = "level-keel-pedal";

/** A worn switch closes twice; a foot does not. Milliseconds. */
const BOUNCE_MS = 300;

/** Keys that people type or walk a page with are no foot switch. */
const TAKEN = [
  "Tab Enter Escape Backspace Delete Insert Shift Control Alt AltGraph Meta CapsLock Dead Process Unidentified",
  "ArrowUp ArrowDown ArrowLeft ArrowRight Home End",
].flatMap((row) => row.split(" "));

export const pedalKey = () => localStorage.getItem(KEY) ?? "";
export const setPedalKey = (key: string) => localStorage.setItem(KEY, key);
export const mayBePedal = (key: string) => key.length > 1 && !TAKEN.includes(key);

const stamp = latestOf<() => void>();

/** What the foot switch does while this is on the page. */
export const useStamp = stamp.use;

export function usePedal() {
  useEffect(() => {
    let last = -Infinity;
    const listen = (e: KeyboardEvent) => {
      if (e.key !== pedalKey() || !mayBePedal(e.key)) return;
      e.preventDefault();
      e.stopPropagation();
      // Nothing behind a dialog is pressed.
      if (document.querySelector(".MuiDialog-root")) return;
      const bounced = e.repeat || e.timeStamp - last < BOUNCE_MS;
      last = e.timeStamp;
      if (!bounced) stamp.now()?.();
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, []);
}
