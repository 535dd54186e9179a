import {
  type CheckedMesh,
  createCheckedMesh,
  type HealthInput,
  type HealthLimits,
  weldPoints,
} from '../mesh/index.ts';
import { bindSection, type Character, Pose, poseSection, type Section } from '../rig/index.ts';

/** Clips whose first frame tells the pose that a garment plays in, at most. */
const MOST_POSES = 12;

/** A section as the checks of its mesh take it, in its bind pose and the first frames of the clips. */
export function createHealthInput(
  character: Character,
  sectionIndex: number,
  limits: Partial<HealthLimits> = {},
): HealthInput {
  const section = character.sections[sectionIndex]!;
  const pose = new Pose(character);
  const poses = character.clips.slice(0, MOST_POSES).map((clip) => {
    pose.setClip(clip, 0);
    return { name: clip.name, positions: poseSection(character, sectionIndex, pose) };
  });
  return {
    positions: bindSection(character, sectionIndex),
    points: weldPoints(section.positions),
    rest: section.restPositions ?? null,
    triangles: section.triangles,
    uvs: section.uvs,
    normals: section.normals,
    weightless: listWeightless(section),
    limits,
    poses,
  };
}

/** Which vertices came without weights and are still as they were put then: on the first joint alone. */
function listWeightless({ unweighted, influences, jointIndices, jointWeights }: Section): Uint8Array | null {
  if (!unweighted || influences * unweighted.length !== jointWeights.length) return null;
  return Uint8Array.from(unweighted, (flag, v) =>
    flag !== 0 && jointIndices[influences * v] === 0 && jointWeights[influences * v] === 1 ? 1 : 0,
  );
}

/** A section's mesh in bind pose, with its points, faces and edges. */
export function createSectionMesh(
  character: Character,
  sectionIndex: number,
  limits: Partial<HealthLimits> = {},
): CheckedMesh {
  // Vertices of one place may come to lie a hair apart when they are posed.
  const { triangles, uvs, positions } = character.sections[sectionIndex]!;
  const points = weldPoints(positions);
  return createCheckedMesh({
    positions: bindSection(character, sectionIndex),
    points,
    triangles,
    uvs,
    limits,
  });
}

/** The character with one section replaced, or (at the end of the list) added. Shares all others. */
export function replaceSection(character: Character, sectionIndex: number, section: Section): Character {
  const sections = character.sections.slice();
  sections[sectionIndex] = section;
  return { ...character, sections };
}
