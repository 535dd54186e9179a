/** Told at most so often. */
const PROGRESS_MS = 100;

/** Runs work to its end, and tells how far it is. */
export function finishWork<T>(work: Generator<number, T>, onShare: (share: number) => unknown): T {
  let toldAt = performance.now();
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    const now = performance.now();
    if (now - toldAt < PROGRESS_MS) continue;
    toldAt = now;
    onShare(step.value);
  }
}
