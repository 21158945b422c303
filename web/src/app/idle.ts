// A shared tablet left alone locks itself: after a while without a hand on it the session ends. What was typed
// stays beneath the sign-in, and whoever comes next signs in as themselves.
import { useEffect } from "react";
import { api, ask, sessionOver } from "../api/client";
import { steady } from "../ui/steady";

const HANDS = ["pointerdown", "keydown", "wheel", "touchstart"] as const;

/** Ends this session and asks who is here now; the page stays as it is beneath. */
export async function switchPerson() {
  await ask(api.DELETE("/api/v1/session")).catch(() => undefined);
  sessionOver.set(true);
}

export function useIdleLock(afterSeconds: number) {
  useEffect(() => {
    if (afterSeconds <= 0) return;
    let last = steady();
    const touched = () => {
      last = steady();
    };
    const timer = setInterval(() => {
      if (sessionOver.get() || steady() - last < afterSeconds * 1000) return;
      void switchPerson();
    }, 1000);
    HANDS.forEach((h) => window.addEventListener(h, touched, { passive: true }));
    return () => {
      clearInterval(timer);
      HANDS.forEach((h) => window.removeEventListener(h, touched));
    };
  }, [afterSeconds]);
}
