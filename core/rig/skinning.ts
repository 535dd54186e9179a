import { multiplyMatrices } from '../math/index.ts';
import type { Section, Skin } from './character.ts';

/**
 * World matrix times inverse bind matrix of every joint of a skin.
 * @param worldMatrices - Of all nodes, [n, 16].
 * @param outMatrices - [joints, 16], overwritten and returned.
 */
export function computeSkinMatrices(
  skin: Skin,
  worldMatrices: Float64Array,
  outMatrices: Float32Array,
): Float32Array {
  for (let j = 0; j < skin.joints.length; j++) {
    multiplyMatrices(outMatrices, 16 * j, worldMatrices, 16 * skin.joints[j]!, skin.inverseBinds, 16 * j);
  }
  return outMatrices;
}

export interface SkinnedRows {
  /** [n, 3] in the section's own space. */
  positions: Float32Array;
  /** [n, influences] */
  jointIndices: Uint16Array;
  jointWeights: Float32Array;
  influences: number;
}

/**
 * Linear blend skinning of points: p' = Σ w_j M_j p.
 *
 * @param rows - Points with their weights.
 * @param skinMatrices - [joints, 16] from `computeSkinMatrices`.
 * @param outPositions - [n, stride], world space; only xyz of each row is written. Not the input array.
 * @returns `outPositions`. Allocates nothing.
 */
export function skinPoints(
  rows: SkinnedRows,
  skinMatrices: Float32Array,
  outPositions: Float32Array,
  stride = 3,
): Float32Array {
  const { positions, jointIndices, jointWeights, influences } = rows;
  const count = positions.length / 3;
  for (let i = 0; i < count; i++) {
    const x = positions[3 * i]!;
    const y = positions[3 * i + 1]!;
    const z = positions[3 * i + 2]!;
    let px = 0;
    let py = 0;
    let pz = 0;
    for (let k = influences * i; k < influences * (i + 1); k++) {
      const w = jointWeights[k]!;
      if (w === 0) continue;
      const m = 16 * jointIndices[k]!;
      px +=
        w *
        (skinMatrices[m]! * x + skinMatrices[m + 4]! * y + skinMatrices[m + 8]! * z + skinMatrices[m + 12]!);
      py +=
        w *
        (skinMatrices[m + 1]! * x +
          skinMatrices[m + 5]! * y +
          skinMatrices[m + 9]! * z +
          skinMatrices[m + 13]!);
      pz +=
        w *
        (skinMatrices[m + 2]! * x +
          skinMatrices[m + 6]! * y +
          skinMatrices[m + 10]! * z +
          skinMatrices[m + 14]!);
    }
    outPositions[stride * i] = px;
    outPositions[stride * i + 1] = py;
    outPositions[stride * i + 2] = pz;
  }
  return outPositions;
}

/**
 * Base positions with the morph offsets added.
 * @param weights - [morphs]
 * @param outPositions - [n, 3], overwritten and returned.
 */
export function applyMorphs(
  section: Section,
  weights: ArrayLike<number>,
  outPositions: Float32Array,
): Float32Array {
  outPositions.set(section.positions);
  for (let m = 0; m < section.morphs.length; m++) {
    const weight = weights[m]!;
    if (weight === 0) continue;
    const offsets = section.morphs[m]!.positions;
    for (let i = 0; i < offsets.length; i++) outPositions[i] = outPositions[i]! + weight * offsets[i]!;
  }
  return outPositions;
}
