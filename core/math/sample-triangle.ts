import type { Vector3 } from './vectors.ts';

/** Places in a row along each side of a triangle that is sampled. */
const ALONG = 4;
/** Places that stand for one triangle. */
export const TRIANGLE_SAMPLES = ((ALONG + 1) * (ALONG + 2)) / 2;

/** Places spread evenly over a triangle, its corners with them, added to a list: xyz after xyz. */
export function sampleTriangle(corners: readonly [Vector3, Vector3, Vector3], out: number[]): void {
  for (let i = 0; i <= ALONG; i++) {
    for (let j = 0; i + j <= ALONG; j++) {
      const shares = [i / ALONG, j / ALONG, (ALONG - i - j) / ALONG];
      for (let k = 0; k < 3; k++)
        out.push(corners.reduce((sum, corner, c) => sum + shares[c]! * corner[k]!, 0));
    }
  }
}
