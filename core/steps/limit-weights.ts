import type { Character, Section } from '../rig/index.ts';
import { editWeights } from './edit-weights.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { influencesField, shareField } from './step-fields.ts';

/** A section whose vertices follow at most so many joints, each with at least a share of the weight. */
export function limitSectionWeights(
  character: Character,
  sectionIndex: number,
  influences: number,
  least: number,
): Section {
  return editWeights(character, sectionIndex, () => {}, { influences, least });
}

export const limitWeightsStep = defineStep({
  kind: 'limitWeights',
  fields: { influences: influencesField, least: shareField },
  describe: ({ influences }) => `at most ${influences} joints`,
  apply: (context, { influences, least }) =>
    replaceOwn(context, limitSectionWeights(context.character, context.sectionIndex, influences, least)),
});
