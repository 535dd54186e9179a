import type { WindSettings } from '../cloth/index.ts';
import { type AuthoredDocument, getScene, SCENE_ID } from '../document/index.ts';
import type { Character, MorphValues } from '../rig/index.ts';
import { BLEND_AFTER_SECONDS, BLEND_BEFORE_SECONDS, countFrames, type TrialRate } from './frame-rate.ts';

/** A clip, or going over from one to another: at which second of the first, in how many. Clips by index. */
export type TrialMotion =
  | { kind: 'clip'; clip: number }
  | { kind: 'blend'; from: number; to: number; at: number; seconds: number };

/** `asSet`: that of the document. */
export type TrialWind = 'asSet' | 'still' | 'strong';

export const TRIAL_WINDS: readonly TrialWind[] = ['asSet', 'still', 'strong'];

/** Air as on a hill in bad weather, from the side. */
const STRONG_WIND: Readonly<WindSettings> = {
  windSpeed: 8,
  windDirection: 115,
  windGusts: 0.6,
  windTurbulence: 0.4,
};

/** One thing that a trial plays: a motion in a body shape, in a wind, at a frame rate. */
export interface TrialCase {
  motion: TrialMotion;
  /** Values of morph targets; null: those of the document. */
  shape: MorphValues | null;
  wind: TrialWind;
  rate: TrialRate;
}

/** A motion as everything is set, at 60 frames a second. */
export function createCase(motion: TrialMotion, change: Partial<TrialCase> = {}): TrialCase {
  return { motion, shape: null, wind: 'asSet', rate: 60, ...change };
}

/** What a case is called, the same for the same case of another trial: "walk", "walk · 30 fps", "walk to run at 0.40 s in 0.25 s". */
export function nameCase({ motion, shape, wind, rate }: TrialCase, { clips }: Character): string {
  const name = (clip: number): string => clips[clip]?.name || `clip ${clip + 1}`;
  const first =
    motion.kind === 'clip'
      ? name(motion.clip)
      : `${name(motion.from)} to ${name(motion.to)} at ${motion.at.toFixed(2)} s in ${motion.seconds.toFixed(2)} s`;
  const shapes = Object.entries(shape ?? {}).map(([morph, value]) => `${morph} ${Math.round(100 * value)} %`);
  return [
    first,
    ...shapes,
    ...(wind === 'asSet' ? [] : [wind === 'still' ? 'still air' : 'strong wind']),
    ...(rate === 60 ? [] : [rate === 'uneven' ? 'uneven frames' : `${rate} fps`]),
  ].join(' · ');
}

/** How many frames a case measures. */
export function countCaseFrames({ motion, rate }: TrialCase, { clips }: Pick<Character, 'clips'>): number {
  const getDuration = (clip: number): number => clips[clip]?.duration ?? 0;
  if (motion.kind === 'clip') return countFrames(rate, getDuration(motion.clip));
  const start = Math.min(motion.at, getDuration(motion.from));
  return countFrames(rate, Math.min(start, BLEND_BEFORE_SECONDS) + motion.seconds + BLEND_AFTER_SECONDS);
}

/** Which clip a moment of a motion is of, and which second of that: of a blend, the clip that it goes over to once it has begun. */
export function findMoment(
  motion: TrialMotion,
  time: number,
  { clips }: Pick<Character, 'clips'>,
): { clip: number; time: number } {
  if (motion.kind === 'clip') return { clip: motion.clip, time };
  const start = Math.min(motion.at, clips[motion.from]?.duration ?? 0);
  const before = Math.min(start, BLEND_BEFORE_SECONDS);
  if (time <= before) return { clip: motion.from, time: start - before + time };
  const duration = clips[motion.to]?.duration ?? 0;
  return { clip: motion.to, time: duration > 0 ? Math.min(time - before, duration) : 0 };
}

/** The document in which a case is run: its scene has the shape and the wind of the case; the rest is the same, not copied. */
export function createCaseDocument(document: AuthoredDocument, { shape, wind }: TrialCase): AuthoredDocument {
  if (shape === null && wind === 'asSet') return document;
  const scene = {
    ...getScene(document),
    ...(shape && { morphs: shape }),
    ...(wind === 'still' && { windSpeed: 0 }),
    ...(wind === 'strong' && STRONG_WIND),
  };
  return { ...document, records: new Map(document.records).set(SCENE_ID, scene) };
}
