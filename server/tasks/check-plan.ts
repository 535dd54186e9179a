import { type Character, listMorphNames } from '../../core/rig/index.ts';
import { describeVariable, MOST_DIMENSIONS, type SearchVariable } from '../../core/search/index.ts';
import type { TrialMotion, TrialPlan } from '../../core/trials/index.ts';
import { ServiceError } from '../services/service-error.ts';

/** @throws {ServiceError} 422 for clips and morph targets that a character does not have, and blends from after a clip's end. */
export function checkPlan(character: Character, { motions, shapes }: TrialPlan): void {
  if (motions.length === 0) throw new ServiceError(422, 'There is nothing to play. Choose a clip.');
  for (const motion of motions) checkMotion(character, motion);
  const known = listMorphNames(character);
  const unknown = shapes.find((name) => !known.includes(name));
  if (unknown !== undefined)
    throw new ServiceError(422, `The character has no morph target "${unknown}". Reload the page.`);
}

function checkMotion({ clips }: Character, motion: TrialMotion): void {
  const wanted = motion.kind === 'clip' ? [motion.clip] : [motion.from, motion.to];
  const missing = wanted.find((clip) => !clips[clip]);
  if (missing !== undefined)
    throw new ServiceError(422, `The character has no clip ${missing + 1}. Reload the page.`);
  if (motion.kind === 'clip') return;
  const { name, duration } = clips[motion.from]!;
  if (motion.at > duration)
    throw new ServiceError(
      422,
      `A blend from "${name}" at ${motion.at.toFixed(2)} s: the clip is only ${duration.toFixed(2)} s long.`,
    );
}

/** @throws {ServiceError} 422 for none, too many, the same twice, and bounds that are none. */
export function checkVariables(variables: readonly SearchVariable[]): void {
  if (variables.length === 0 || variables.length > MOST_DIMENSIONS)
    throw new ServiceError(422, `Choose from 1 to ${MOST_DIMENSIONS} numbers that may move.`);
  for (const [v, { key, low, high }] of variables.entries()) {
    const { label, range } = describeVariable(key);
    if (variables.findIndex((other) => other.key === key) < v)
      throw new ServiceError(422, `${label} is chosen twice.`);
    if (!(range[0] <= low && low < high && high <= range[1]))
      throw new ServiceError(
        422,
        `${label}: the lower bound must be below the upper one, both within its range.`,
      );
  }
}
