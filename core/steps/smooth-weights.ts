import { number } from 'yup';
import { buildNeighbours } from '../mesh/index.ts';
import { type Character, type Section, smoothWeights } from '../rig/index.ts';
import { editWeights } from './edit-weights.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { shareField } from './step-fields.ts';

/** A section whose weights are evened out with those around, so strongly and so often. */
export function smoothSectionWeights(
  character: Character,
  sectionIndex: number,
  strength: number,
  times: number,
): Section {
  const { table, pointCount } = createSectionMesh(character, sectionIndex);
  const neighbours = buildNeighbours(table, pointCount);
  return editWeights(character, sectionIndex, (dense, jointCount) =>
    smoothWeights(dense, jointCount, neighbours, new Float32Array(pointCount).fill(strength), times),
  );
}

export const smoothWeightsStep = defineStep({
  kind: 'smoothWeights',
  fields: { strength: shareField, times: number().required().integer().min(1).max(1000) },
  describe: ({ times }) => `smooth weights ${times}×`,
  apply: (context, { strength, times }) =>
    replaceOwn(context, smoothSectionWeights(context.character, context.sectionIndex, strength, times)),
});
