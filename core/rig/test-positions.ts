import { bindSection, type Character, Pose, poseSection } from './index.ts';

/** Places of all sections in the bind pose and in some frames of the clips, world space. */
export function listPositions(character: Character): Float32Array[] {
  const pose = new Pose(character);
  return character.sections.flatMap((_, index) => [
    bindSection(character, index),
    ...character.clips.flatMap((clip) =>
      [0, 0.3, 0.7].map((share) => {
        pose.setClip(clip, share * clip.duration);
        return poseSection(character, index, pose);
      }),
    ),
  ]);
}
