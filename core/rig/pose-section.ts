import type { Character } from './character.ts';
import { Pose } from './pose.ts';
import { applyMorphs, computeSkinMatrices, skinPoints } from './skinning.ts';

/**
 * World-space vertices of one section in a pose, [n, 3]: morphs, then skinning.
 * Allocates; for a look at single poses, not for playing.
 */
export function poseSection(character: Character, sectionIndex: number, pose: Pose): Float32Array {
  const section = character.sections[sectionIndex]!;
  const skin = character.skins[section.skin]!;
  const matrices = computeSkinMatrices(skin, pose.worldMatrices, new Float32Array(16 * skin.joints.length));
  const morphed = applyMorphs(
    section,
    pose.morphWeights[sectionIndex]!,
    new Float32Array(section.positions.length),
  );
  return skinPoints({ ...section, positions: morphed }, matrices, new Float32Array(morphed.length));
}

/** World-space vertices of one section in bind pose, [n, 3]. */
export function bindSection(character: Character, sectionIndex: number): Float32Array {
  const pose = new Pose(character);
  pose.setBind();
  return poseSection(character, sectionIndex, pose);
}
