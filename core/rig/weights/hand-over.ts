/**
 * Gives the weight of all joints that are not locked to one joint. Rows keep their sums.
 *
 * @param dense - [n, joints], changed. @param locked - Joints that keep their weight. @param to - Joint that takes it.
 */
export function handOverWeights(
  dense: Float32Array,
  jointCount: number,
  locked: ReadonlySet<number>,
  to: number,
): void {
  for (let row = 0; row < dense.length; row += jointCount) {
    let given = 0;
    for (let joint = 0; joint < jointCount; joint++) {
      if (joint === to || locked.has(joint)) continue;
      given += dense[row + joint]!;
      dense[row + joint] = 0;
    }
    dense[row + to] = dense[row + to]! + given;
  }
}
