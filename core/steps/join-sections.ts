import { type Character, toDenseWeights } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** Bind places, triangles and (when asked for) weights of several sections of one skin as one surface. */
export function joinSections(
  character: Character,
  sectionIndices: readonly number[],
  jointCount: number,
  hasWeights = true,
): { positions: Float32Array; triangles: Uint32Array; weights: Float32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  const weights: number[] = [];
  for (const index of sectionIndices) {
    const section = character.sections[index]!;
    const { pointPositions, faces, vertexOfPoint } = createSectionMesh(character, index);
    const offset = positions.length / 3;
    const dense = hasWeights ? toDenseWeights(section, jointCount) : null;
    for (const value of pointPositions) positions.push(value);
    for (const corner of faces) triangles.push(corner + offset);
    for (const vertex of dense ? vertexOfPoint : []) {
      for (let j = 0; j < jointCount; j++) weights.push(dense![jointCount * vertex + j]!);
    }
  }
  return {
    positions: Float32Array.from(positions),
    triangles: Uint32Array.from(triangles),
    weights: Float32Array.from(weights),
  };
}
