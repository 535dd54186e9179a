/** Runs work that is told in steps to its end. */
export function finish<Step, T>(work: Generator<Step, T>, onStep?: (step: Step) => void): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    onStep?.(step.value);
  }
}
