// A soft chime at last call. It can be muted, and the choice is kept in this browser.
const KEY = "level-keel-muted";

export const muted = () => localStorage.getItem(KEY) === "yes";
export const mute = (yes: boolean) => localStorage.setItem(KEY, yes ? "yes" : "no");

/** Two quiet falling tones. A browser that was not touched yet stays silent; the tab title says it too. */
export function chime() {
  if (muted()) return;
  const audio = new AudioContext();
  [660, 495].forEach((hertz, i) => {
    const at = audio.currentTime + i * 0.35;
    const tone = audio.createOscillator();
    const gain = audio.createGain();
    tone.frequency.value = hertz;
    gain.gain.setValueAtTime(0.12, at);
    gain.gain.exponentialRampToValueAtTime(0.001, at + 0.6);
    tone.connect(gain).connect(audio.destination);
    tone.start(at);
    tone.stop(at + 0.6);
  });
  setTimeout(() => void audio.close(), 1500);
}
