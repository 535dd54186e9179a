import { meanScale, transformPoint } from '../math/index.ts';
import { BODY_STRIDE } from './body-shape.ts';

/**
 * Bodies carried from joint space into the world. Radii grow with the joint's mean scale.
 *
 * @param rows - [m, 8] in joint space. @param nodes - [m]. @param worldMatrices - [n, 16].
 * @param outRows - [m, 8] in world space, overwritten and returned.
 */
export function poseCapsules(
  rows: Float32Array,
  nodes: Int32Array,
  worldMatrices: Float64Array,
  outRows: Float32Array,
): Float32Array {
  for (let i = 0; i < nodes.length; i++) {
    const o = BODY_STRIDE * i;
    const m = 16 * nodes[i]!;
    const scale = meanScale(worldMatrices, m);
    transformPoint(outRows, o, worldMatrices, m, rows[o]!, rows[o + 1]!, rows[o + 2]!);
    transformPoint(outRows, o + 4, worldMatrices, m, rows[o + 4]!, rows[o + 5]!, rows[o + 6]!);
    outRows[o + 3] = rows[o + 3]! * scale;
    outRows[o + 7] = rows[o + 7]! * scale;
  }
  return outRows;
}
