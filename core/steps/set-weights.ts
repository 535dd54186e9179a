import { weldPoints } from '../mesh/index.ts';
import { bindSection, type Character, type Section } from '../rig/index.ts';
import { editWeights, listJointNames } from './edit-weights.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { jointNamesField } from './step-fields.ts';
import { readVertexEdits, unpackVertexEdits, type VertexEdits } from './vertex-edits.ts';

/**
 * Gives the points that were worked on their hand-made weights.
 *
 * @param jointNames - One for each column of the handwork.
 * @throws {RangeError} When nothing is known, or the skin has no joint of a name.
 */
export function setWeights(
  character: Character,
  sectionIndex: number,
  jointNames: readonly string[],
  edits: VertexEdits | null,
): Section {
  if (edits?.width !== jointNames.length)
    throw new RangeError('the weights set by hand are not known any more');
  const section = character.sections[sectionIndex]!;
  const names = listJointNames(character, sectionIndex);
  const joints = jointNames.map((name) => names.indexOf(name));
  const lost = joints.indexOf(-1);
  if (lost >= 0) throw new RangeError(`the skin of "${section.name}" has no joint "${jointNames[lost]}"`);
  const bound = bindSection(character, sectionIndex);
  const positions = Float32Array.from(
    Array.from(weldPoints(section.positions).vertexOfPoint).flatMap((v) => [
      ...bound.subarray(3 * v, 3 * v + 3),
    ]),
  );
  const { isSet, values } = readVertexEdits(edits, positions);
  const width = jointNames.length;
  return editWeights(
    character,
    sectionIndex,
    (dense, jointCount) => {
      isSet.forEach((one, point) => {
        if (!one) return;
        dense.fill(0, jointCount * point, jointCount * (point + 1));
        joints.forEach((joint, k) => {
          dense[jointCount * point + joint] = values[width * point + k]!;
        });
      });
    },
    { least: 0 },
  );
}

export const setWeightsStep = defineStep({
  kind: 'setWeights',
  fields: { joints: jointNamesField.min(1) },
  describe: ({ joints }) => `weights by hand, ${joints.length} joints`,
  apply: (context, { joints }) => {
    const { character, sectionIndex, array } = context;
    return replaceOwn(context, setWeights(character, sectionIndex, joints, unpackVertexEdits(array)));
  },
});
