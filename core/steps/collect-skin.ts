import type { Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

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
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const index of sectionIndices) {
    const mesh = createSectionMesh(character, index);
    const shares = left.size > 0 ? measureShares(character, index, left) : null;
    const numbers = new Map<number, number>();
    mesh.triangleOfFace.forEach((triangle, f) => {
      const corners = [0, 1, 2].map((k) => mesh.triangles[3 * triangle + k]!);
      const share = shares ? corners.reduce((sum, vertex) => sum + shares[vertex]!, 0) / 3 : 0;
      if (share > MOST_SHARE) return;
      for (let k = 0; k < 3; k++) {
        const point = mesh.faces[3 * f + k]!;
        let number = numbers.get(point);
        if (number === undefined) {
          number = positions.length / 3;
          numbers.set(point, number);
          positions.push(...mesh.pointPositions.subarray(3 * point, 3 * point + 3));
        }
        triangles.push(number);
      }
    });
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
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
