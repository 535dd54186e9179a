import { type Character, Pose, poseSection, type Section } from '../rig/index.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { nameField } from './step-fields.ts';

/**
 * Takes the lengths of the cloth at rest from the first frame of a clip: a garment that was bound in one pose and
 * plays in another is then not stretched before it moves.
 *
 * @throws {RangeError} When there is no such clip.
 */
export function restInPose(character: Character, sectionIndex: number, clipName: string): Section {
  const clip = character.clips.find(({ name }) => name === clipName);
  if (!clip) throw new RangeError(`there is no clip "${clipName}"`);
  const pose = new Pose(character);
  pose.setClip(clip, 0);
  return { ...character.sections[sectionIndex]!, restPositions: poseSection(character, sectionIndex, pose) };
}

export const restInPoseStep = defineStep({
  kind: 'restInPose',
  fields: { clipName: nameField },
  describe: ({ clipName }) => `rest as in "${clipName}"`,
  apply: (context, { clipName }) =>
    replaceOwn(context, restInPose(context.character, context.sectionIndex, clipName)),
});
