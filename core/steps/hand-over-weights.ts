import { type Character, handOverWeights, type Section } from '../rig/index.ts';
import { editWeights, listJointNames } from './edit-weights.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { jointNamesField, nameField } from './step-fields.ts';

/**
 * Locked joints keep their weight, all others give theirs to one.
 * @throws {RangeError} When the skin has no joint of a name.
 */
export function handOver(
  character: Character,
  sectionIndex: number,
  keptJoints: readonly string[],
  toJoint: string,
): Section {
  const section = character.sections[sectionIndex]!;
  const names = listJointNames(character, sectionIndex);
  const find = (name: string): number => {
    const joint = names.indexOf(name);
    if (joint < 0) throw new RangeError(`the skin of "${section.name}" has no joint "${name}"`);
    return joint;
  };
  const [locked, to] = [new Set(keptJoints.map(find)), find(toJoint)];
  return editWeights(character, sectionIndex, (dense, jointCount) =>
    handOverWeights(dense, jointCount, locked, to),
  );
}

export const handOverWeightsStep = defineStep({
  kind: 'handOverWeights',
  fields: { keptJoints: jointNamesField, toJoint: nameField },
  describe: ({ toJoint }) => `other joints to ${toJoint}`,
  apply: (context, { keptJoints, toJoint }) =>
    replaceOwn(context, handOver(context.character, context.sectionIndex, keptJoints, toJoint)),
});
