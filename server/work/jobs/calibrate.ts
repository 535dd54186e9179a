import { cpus } from 'node:os';
import { calibrate as calibrateMachine } from '../../../core/budget/index.ts';
import type { CostProfile } from '../../../core/cost/index.ts';
import { createTimingClock } from '../timing-clock.ts';
import { finish } from './finish.ts';
import type { KnownSubject } from './subject.ts';

/** Measures what work costs on this machine, in this thread. @param onDone - Told the share that is done. */
export function calibrate(
  _known: KnownSubject | null,
  _job: Record<string, never>,
  onDone: (share: number) => void,
): CostProfile {
  const { costs, fit } = finish(calibrateMachine({ clock: createTimingClock() }), onDone);
  return {
    name: 'This machine',
    source: 'machine',
    machine: tellMachine(),
    measuredAt: new Date().toISOString(),
    costs,
    fit,
  };
}

function tellMachine(): string {
  const all = cpus();
  return `${all[0]?.model.trim() ?? 'unknown processor'}, ${all.length} cores`;
}
