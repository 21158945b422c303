// Milliseconds that go on while a tablet sleeps. The monotonic clock of a browser may stand still then; the wall clock goes on. Where
// the wall clock went further, the tablet slept, or was set forward: what is counted is the longer, so that nothing looks younger
// than it is. A wall clock that is set back counts nothing.
let monotonic = performance.now();
let wall = Date.now();
let slept = 0;

/** Two clocks that differ by less than this have drifted; no tablet slept. */
const DRIFT_MS = 1000;

export function steady(): number {
  const now = performance.now();
  const told = Date.now();
  const missed = told - wall - (now - monotonic);
  if (missed > DRIFT_MS) slept += missed;
  if (Math.abs(missed) > DRIFT_MS || now - monotonic > 60_000) {
    monotonic = now;
    wall = told;
  }
  return now + slept;
}
