import type { Section } from '../character.ts';

/** Weights of every joint of a skin at every vertex, [n, joints]. */
export function toDenseWeights(
  { influences, jointIndices, jointWeights }: Pick<Section, 'influences' | 'jointIndices' | 'jointWeights'>,
  jointCount: number,
): Float32Array {
  const count = jointIndices.length / influences;
  const dense = new Float32Array(count * jointCount);
  for (let v = 0; v < count; v++) {
    for (let k = influences * v; k < influences * (v + 1); k++) {
      const at = v * jointCount + jointIndices[k]!;
      dense[at] = dense[at]! + jointWeights[k]!;
    }
  }
  return dense;
}

/**
 * The largest weights of each row, as a section keeps them: sorted from the largest down, summing to one, with joint 0
 * where there is no weight.
 *
 * @param most - Joints a vertex may have, up to `influences`. @param least - Smaller weights are dropped.
 * A row without any weight goes to joint `fallback`.
 */
export function toSparseWeights(
  dense: Float32Array,
  jointCount: number,
  influences: number,
  { most = influences, least = 0, fallback = 0 } = {},
): Pick<Section, 'influences' | 'jointIndices' | 'jointWeights'> {
  const count = dense.length / jointCount;
  const jointIndices = new Uint16Array(influences * count);
  const jointWeights = new Float32Array(influences * count);
  for (let v = 0; v < count; v++) {
    const row = dense.subarray(v * jointCount, (v + 1) * jointCount);
    const kept = Array.from(row.keys())
      .filter((joint) => row[joint]! > 0 && row[joint]! >= least)
      .sort((p, q) => row[q]! - row[p]! || p - q)
      .slice(0, Math.min(most, influences));
    // The largest stays, however small: a vertex must follow something.
    if (kept.length === 0)
      kept.push(row.some((weight) => weight > 0) ? row.indexOf(Math.max(...row)) : fallback);
    const total = kept.reduce((sum, joint) => sum + row[joint]!, 0);
    kept.forEach((joint, k) => {
      jointIndices[influences * v + k] = joint;
      jointWeights[influences * v + k] = total > 0 ? row[joint]! / total : 1 / kept.length;
    });
  }
  return { influences, jointIndices, jointWeights };
}
