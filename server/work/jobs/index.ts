import { calibrate } from './calibrate.ts';
import { measureBand } from './measure-band.ts';
import { measureCase } from './measure-case.ts';
import type { KnownSubject } from './subject.ts';
import { chooseBodies, fitBodies, measureBodies } from './suggest-bodies.ts';
import { needReach, shapeMap } from './suggest-reach.ts';
import { tryChanges } from './try-changes.ts';

export { countBandFrames } from './measure-band.ts';
export type { CaseJob, MeasuredCase } from './measure-case.ts';
export { type KnownSubject, openSubject, type Subject } from './subject.ts';
export type { ReachRequest } from './suggest-reach.ts';
export { FIRST_PLAYS } from './try-changes.ts';

/** What threads can do, by name: each with a job of its own, telling how much of it is done. */
export const JOBS = {
  calibrate,
  measureCase,
  fitBodies,
  chooseBodies,
  measureBodies,
  needReach,
  shapeMap,
  tryChanges,
  measureBand,
};

export type JobKind = keyof typeof JOBS;
export type JobOf<K extends JobKind> = Parameters<(typeof JOBS)[K]>[1];
export type MadeOf<K extends JobKind> = ReturnType<(typeof JOBS)[K]>;

type Work = (known: KnownSubject, job: unknown, onDone: (done: number) => void) => unknown;

/** Does a job. */
export function doJob(
  kind: JobKind,
  known: KnownSubject,
  job: unknown,
  onDone: (done: number) => void,
): unknown {
  return (JOBS[kind] as Work)(known, job, onDone);
}
