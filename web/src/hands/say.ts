// The live figure said aloud, when it is asked for.
import { useSyncExternalStore } from "react";
import type { Level } from "../api/client";
import { latestOf } from "./latest";

const live = latestOf<() => string | null>();

/** What is said while this is on the page. */
export const useSay = live.use;

export const canSpeak = () => "speechSynthesis" in window;

/** Something on this page can be said. */
export const useSayable = () =>
  useSyncExternalStore(live.subscribe, () => canSpeak() && live.now() !== undefined);

export const levelSaid = (level: Level) =>
  [level.label, level.shown.text, level.word, level.advice].filter(Boolean).join(", ");

/** Says it, over whatever was being said. */
export function say() {
  const text = live.now()?.();
  if (!text || !canSpeak()) return;
  speechSynthesis.cancel();
  const said = new SpeechSynthesisUtterance(text.replaceAll("\u00a0", " "));
  said.lang = "en";
  speechSynthesis.speak(said);
}
