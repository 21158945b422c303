// What is heard: slow down, in, out, last call. Each can be muted for itself, and the choice is kept in this browser.
import type { Schemas } from "../api/client";

export const SOUNDS = [
  ["slow", "Slow down: a pour nears its mark"],
  ["in", "In: a pour, a catch or a film is right"],
  ["out", "Out: it is not"],
  ["last_call", "Last call: a pot dies soon"],
] as const;
export type Sound = (typeof SOUNDS)[number][0];

/** Told apart without looking: two alike, rising, three low ones, falling. Hertz, and seconds from one to the next. */
const TONES: Record<Sound, [hertz: number[], apart_s: number]> = {
  slow: [[587, 587], 0.18],
  in: [[523, 784], 0.2],
  out: [[330, 262, 196], 0.22],
  last_call: [[660, 495], 0.35],
};

const key = (sound: Sound) => (sound === "last_call" ? "level-keel-muted" : `level-keel-muted-${sound}`);

export const muted = (sound: Sound) => localStorage.getItem(key(sound)) === "yes";
export const mute = (sound: Sound, yes: boolean) => localStorage.setItem(key(sound), yes ? "yes" : "no");

/** Whether or not it is muted: so that one hears what one mutes. */
export function play(sound: Sound) {
  const [hertz, apart_s] = TONES[sound];
  const audio = new AudioContext();
  hertz.forEach((hz, i) => {
    const at = audio.currentTime + i * apart_s;
    const tone = audio.createOscillator();
    const gain = audio.createGain();
    tone.frequency.value = hz;
    gain.gain.setValueAtTime(0.12, at);
    gain.gain.exponentialRampToValueAtTime(0.001, at + apart_s * 1.7);
    tone.connect(gain).connect(audio.destination);
    tone.start(at);
    tone.stop(at + apart_s * 1.7);
  });
  setTimeout(() => void audio.close(), 1500);
}

/** A browser that was not touched yet stays silent; what is heard is always said on the glass too. */
export function sound(sound: Sound) {
  if (!muted(sound)) play(sound);
}

/** What cannot be told has no sound: it is neither. */
export function soundOf(level: Schemas["Level"] | null | undefined) {
  const verdict = level?.verdict;
  if (verdict === "in") sound("in");
  else if (verdict && verdict !== "cannot_tell") sound("out");
}
