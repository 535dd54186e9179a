import { type Character, listMorphNames } from '../../core/rig/index.ts';
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
