/** Runs work that tells its share to its end. */
export function finish<T>(work: Generator<number, T>, onShare: (share: number) => void): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    onShare(step.value);
  }
}
