import type { Neighbours } from '../../mesh/index.ts';

/**
 * Blends each point's weights with the mean of its neighbours', so many times. Rows keep their sums.
 *
 * @param dense - Of points, [n, joints], changed. @param strength - Share of the neighbours, 0 to 1; one for each point.
 */
export function smoothWeights(
  dense: Float32Array,
  jointCount: number,
  { start, list }: Neighbours,
  strength: Float32Array,
  times: number,
): void {
  for (let time = 0; time < times; time++) {
    const before = dense.slice();
    for (let p = 0; p < strength.length; p++) {
      const degree = start[p + 1]! - start[p]!;
      if (degree === 0 || strength[p] === 0) continue;
      const share = strength[p]! / degree;
      for (let joint = 0; joint < jointCount; joint++) {
        let mean = 0;
        for (let k = start[p]!; k < start[p + 1]!; k++) mean += before[jointCount * list[k]! + joint]!;
        const at = jointCount * p + joint;
        dense[at] = (1 - strength[p]!) * before[at]! + share * mean;
      }
    }
  }
}
