/** The joint with the largest weight at each point; of equal ones the first. @param dense - [n, joints]. */
export function findDominantJoints(dense: Float32Array, jointCount: number): Uint16Array {
  return Uint16Array.from({ length: dense.length / jointCount }, (_, p) => {
    let best = 0;
    for (let j = 1; j < jointCount; j++)
      if (dense[jointCount * p + j]! > dense[jointCount * p + best]!) best = j;
    return best;
  });
}
