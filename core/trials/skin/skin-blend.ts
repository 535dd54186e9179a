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

/** The same cluster by cluster and matrix by matrix, so that each matrix is read once for all points that follow it. */
export interface ClusterBlend {
  /** Runs of cluster c: `start[c]` to `start[c + 1]`. */
  start: Uint32Array;
  /** Of each run the first number of its matrix, and where its entries begin, [runs + 1]. */
  matrices: Uint32Array;
  entries: Uint32Array;
  /** Of each entry the point, and x, y, z times the weight, and the weight, [entries, 4]. */
  points: Uint32Array;
  places: Float32Array;
}

/** The entries of a blend in another order: by cluster, then by matrix. O(entries). */
export function blendClusters({ clusters }: SkinModel, blend: SkinBlend): ClusterBlend {
  const start = new Uint32Array(clusters.length);
  const matrices: number[] = [];
  const entries: number[] = [0];
  const points: number[] = [];
  const order: number[] = [];
  for (let c = 0; c + 1 < clusters.length; c++) {
    const runs = new Map<number, number[]>();
    const pointOf = new Map<number, number>();
    for (let p = clusters[c]!; p < clusters[c + 1]!; p++) {
      for (let e = blend.start[p]!; e < blend.start[p + 1]!; e++) {
        const run = runs.get(blend.matrices[e]!);
        if (run) run.push(e);
        else runs.set(blend.matrices[e]!, [e]);
        pointOf.set(e, p);
      }
    }
    for (const [matrix, run] of runs) {
      matrices.push(matrix);
      order.push(...run);
      points.push(...run.map((e) => pointOf.get(e)!));
      entries.push(order.length);
    }
    start[c + 1] = matrices.length;
  }
  const places = new Float32Array(4 * order.length);
  order.forEach((e, i) => {
    places.set(blend.places.subarray(4 * e, 4 * e + 4), 4 * i);
  });
  return {
    start,
    matrices: Uint32Array.from(matrices),
    entries: Uint32Array.from(entries),
    points: Uint32Array.from(points),
    places,
  };
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
