import type { Character, Section } from '../../rig/index.ts';
import type { SkinModel } from './skin-model.ts';

/**
 * How each point of a `SkinModel` follows the joints: p' = Σ M_j (x, y, z, w), the bind places of its vertices weighted beforehand, so
 * that a point between vertices costs no more than one of them.
 */
export interface SkinBlend {
  /** Entries of point p: `start[p]` to `start[p + 1]`. */
  start: Uint32Array;
  /** First number of the entry's matrix in the joined list of all skins' matrices. */
  matrices: Uint32Array;
  /** x, y, z times the weight, and the weight, [entries, 4]; the normal likewise, [entries, 3]. */
  places: Float32Array;
  normals: Float32Array;
}

/** Where the matrices of each skin begin in the joined list, [skins + 1]. */
export function findMatrixStarts({ skins }: Pick<Character, 'skins'>): number[] {
  const starts = [0];
  for (const { joints } of skins) starts.push(starts[starts.length - 1]! + 16 * joints.length);
  return starts;
}

/** @param positions - Of the joined vertices, morphs added, [v, 3]. */
export function blendSkin(
  model: SkinModel,
  character: Pick<Character, 'skins'>,
  positions: Float32Array,
): SkinBlend {
  const starts = findMatrixStarts(character);
  const find = createVertexFinder(model.sections);
  const start = new Uint32Array(model.pointCount + 1);
  const matrices: number[] = [];
  const places: number[] = [];
  const normals: number[] = [];
  for (let p = 0; p < model.pointCount; p++) {
    const first = matrices.length;
    for (let i = 3 * p; i < 3 * p + 3; i++) {
      const share = model.shares[i]!;
      if (share === 0) continue;
      const vertex = model.vertices[i]!;
      const { section, local } = find(vertex);
      const { influences, jointIndices, jointWeights } = section;
      for (let k = influences * local; k < influences * (local + 1); k++) {
        const weight = share * jointWeights[k]!;
        if (weight === 0) continue;
        const matrix = starts[section.skin]! + 16 * jointIndices[k]!;
        let at = matrices.indexOf(matrix, first);
        if (at < 0) {
          at = matrices.push(matrix) - 1;
          places.push(0, 0, 0, 0);
          normals.push(0, 0, 0);
        }
        for (let c = 0; c < 3; c++) {
          places[4 * at + c] = places[4 * at + c]! + weight * positions[3 * vertex + c]!;
          normals[3 * at + c] = normals[3 * at + c]! + weight * section.normals[3 * local + c]!;
        }
        places[4 * at + 3] = places[4 * at + 3]! + weight;
      }
    }
    start[p + 1] = matrices.length;
  }
  return {
    start,
    matrices: Uint32Array.from(matrices),
    places: Float32Array.from(places),
    normals: Float32Array.from(normals),
  };
}

/** Joints that move each cluster, as offsets of their matrices; where those of each begin, [clusters + 1]. */
export function listClusterMatrices(
  { clusters }: SkinModel,
  { start, matrices }: SkinBlend,
): { start: Uint32Array; list: Uint32Array } {
  const starts = new Uint32Array(clusters.length);
  const list: number[] = [];
  for (let c = 0; c + 1 < clusters.length; c++) {
    const used = new Set(matrices.subarray(start[clusters[c]!]!, start[clusters[c + 1]!]!));
    list.push(...used);
    starts[c + 1] = list.length;
  }
  return { start: starts, list: Uint32Array.from(list) };
}

function createVertexFinder(
  sections: readonly Section[],
): (vertex: number) => { section: Section; local: number } {
  const ends: number[] = [];
  for (const { positions } of sections) ends.push((ends[ends.length - 1] ?? 0) + positions.length / 3);
  return (vertex) => {
    const s = ends.findIndex((end) => vertex < end);
    return { section: sections[s]!, local: vertex - (ends[s - 1] ?? 0) };
  };
}
