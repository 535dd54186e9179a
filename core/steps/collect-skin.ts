import type { Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectFaces } from './collect-faces.ts';

/** A triangle belongs to joints that have more than this of its weights. */
const MOST_SHARE = 0.5;

/**
 * The surface of some sections in bind pose, their points joined, without what some joints move.
 *
 * @param without - Names of joints: triangles that they have most of go.
 * @returns World space, m.
 */
export function collectSkin(
  character: Character,
  sectionIndices: readonly number[],
  without: readonly string[] = [],
): Surface {
  const left = new Set(without);
  return collectFaces(character, sectionIndices, (mesh, index) => {
    const shares = left.size > 0 ? measureShares(character, index, left) : null;
    return (face) => {
      if (!shares) return true;
      const first = 3 * mesh.triangleOfFace[face]!;
      const corners = mesh.triangles.subarray(first, first + 3);
      return corners.reduce((sum, vertex) => sum + shares[vertex]!, 0) / 3 <= MOST_SHARE;
    };
  }).surface;
}

/** How much of each vertex some joints have, 0 to 1. */
function measureShares(character: Character, index: number, names: ReadonlySet<string>): Float32Array {
  const { influences, jointIndices, jointWeights, skin, positions } = character.sections[index]!;
  const isLeft = character.skins[skin]!.joints.map((node) =>
    names.has(character.skeleton.names[node]!) ? 1 : 0,
  );
  const shares = new Float32Array(positions.length / 3);
  jointWeights.forEach((weight, i) => {
    const vertex = Math.floor(i / influences);
    shares[vertex] = shares[vertex]! + weight * isLeft[jointIndices[i]!]!;
  });
  return shares;
}
