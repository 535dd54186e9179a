import { type Character, listMorphNames } from '../../core/rig/index.ts';
import {
  countCaseFrames,
  createPlan,
  listCases,
  type TrialMotion,
  type TrialPlan,
  type TrialRate,
  type TrialWind,
} from '../../core/trials/index.ts';

/** What the next trial is to play; empty lists of clips and shapes are none. */
export interface TrialChoice {
  clips: readonly number[];
  blends: readonly Extract<TrialMotion, { kind: 'blend' }>[];
  shapes: readonly string[];
  winds: readonly TrialWind[];
  rates: readonly TrialRate[];
}

/** Everything that there is. */
export function chooseAll(character: Character): TrialChoice {
  const { shapes, winds, rates } = createPlan(character);
  return { clips: character.clips.map((_, clip) => clip), blends: [], shapes, winds, rates };
}

/** The clips as everything is set. */
export function choosePlain(character: Character): TrialChoice {
  return { ...chooseAll(character), shapes: [], winds: ['asSet'], rates: [60] };
}

/** A choice without the clips and shapes that a character does not have. */
export function toPlan(character: Character, choice: TrialChoice): TrialPlan {
  const has = (clip: number): boolean => clip < character.clips.length;
  const known = listMorphNames(character);
  return {
    motions: [
      ...choice.clips.filter(has).map((clip): TrialMotion => ({ kind: 'clip', clip })),
      ...choice.blends.filter(({ from, to }) => has(from) && has(to)),
    ],
    shapes: choice.shapes.filter((name) => known.includes(name)),
    winds: choice.winds,
    rates: choice.rates,
  };
}

/** How much a plan is. */
export function countPlan(character: Character, plan: TrialPlan): { runs: number; frames: number } {
  const cases = listCases(plan);
  return {
    runs: cases.length,
    frames: cases.reduce((sum, each) => sum + countCaseFrames(each, character), 0),
  };
}
