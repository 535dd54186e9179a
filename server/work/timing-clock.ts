import { readFileSync } from 'node:fs';
import type { TimingClock } from '../../core/budget/index.ts';

/** Of a thread on Linux: nanoseconds that it ran, that it waited for a processor, and how often it was given one. */
const SCHEDULED = '/proc/thread-self/schedstat';

/** The clock of this thread; how long it waited is known on Linux. */
export function createTimingClock(): TimingClock {
  return { now: () => performance.now(), waited: canTell() ? readWaited : () => null };
}

function readWaited(): number {
  return Number(readFileSync(SCHEDULED, 'utf8').split(' ')[1]) / 1e6;
}

function canTell(): boolean {
  try {
    return Number.isFinite(readWaited());
  } catch {
    return false;
  }
}
