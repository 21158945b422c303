// A click at a steady pace, by the clock of the sound card: the page may be busy, the click is not.
const AHEAD_S = 0.5;

/** Clicks every so many seconds until the answer is called. */
export function clicks(every_s: number): () => void {
  const audio = new AudioContext();
  let next = audio.currentTime + 0.1;
  const plan = () => {
    while (next < audio.currentTime + AHEAD_S) {
      const tone = audio.createOscillator();
      const gain = audio.createGain();
      tone.frequency.value = 1000;
      gain.gain.setValueAtTime(0.2, next);
      gain.gain.exponentialRampToValueAtTime(0.001, next + 0.04);
      tone.connect(gain).connect(audio.destination);
      tone.start(next);
      tone.stop(next + 0.05);
      next += every_s;
    }
  };
  plan();
  const timer = setInterval(plan, 100);
  return () => {
    clearInterval(timer);
    void audio.close();
  };
}
