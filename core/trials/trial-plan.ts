import { type Character, listMorphNames } from '../rig/index.ts';
import { TRIAL_RATES, type TrialRate } from './frame-rate.ts';
import { createCase, TRIAL_WINDS, type TrialCase, type TrialMotion, type TrialWind } from './trial-case.ts';

/** What is chosen for a trial. */
export interface TrialPlan {
  motions: readonly TrialMotion[];
  /** Morph targets that are tried at their full value, by name. */
  shapes: readonly string[];
  winds: readonly TrialWind[];
  rates: readonly TrialRate[];
}

/** Everything that there is of a character: all clips, all morph targets, all winds and frame rates. */
export function createPlan(character: Character): TrialPlan {
  return {
    motions: character.clips.map((_, clip) => ({ kind: 'clip', clip })),
    shapes: listMorphNames(character),
    winds: TRIAL_WINDS,
    rates: TRIAL_RATES,
  };
}

/**
 * The cases of a plan: each motion as everything is set, at 60 frames a second, and then with one thing different at a time: a wind, a
 * frame rate, a body shape. What is to be told apart is, and a trial stays as long as the sum of them, not the product.
 */
export function listCases({ motions, shapes, winds, rates }: TrialPlan): TrialCase[] {
  const changes: Partial<TrialCase>[] = [
    ...winds.map((wind) => ({ wind })),
    ...rates.map((rate) => ({ rate })),
    ...shapes.map((name) => ({ shape: { [name]: 1 } })),
  ];
  // As it is set comes first, and once.
  const isPlain = ({ wind = 'asSet', rate = 60, shape = null }: Partial<TrialCase>): boolean =>
    wind === 'asSet' && rate === 60 && shape === null;
  const others = changes.filter((change) => !isPlain(change));
  const hasPlain = others.length < changes.length || changes.length === 0;
  return [...(hasPlain ? [{}] : []), ...others].flatMap((change) =>
    motions.map((motion) => createCase(motion, change)),
  );
}
