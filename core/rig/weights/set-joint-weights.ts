/**
 * Gives one joint wished weights at some points; the other joints share what is left in the ratio they had. Rows keep
 * their sum of one: locked joints keep theirs, and where no other joint can take what is left, the joint keeps it.
 *
 * @param dense - [n, joints], changed. @param points - Rows to change, with one wished weight each, 0 to 1.
 * @param locked - Joints that keep their weight; nothing changes when `joint` is among them.
 */
export function setJointWeights(
  dense: Float32Array,
  jointCount: number,
  joint: number,
  points: ArrayLike<number>,
  target: ArrayLike<number>,
  locked: ReadonlySet<number> = new Set(),
): void {
  if (locked.has(joint)) return;
  for (let i = 0; i < points.length; i++) {
    const row = jointCount * points[i]!;
    let kept = 0;
    let others = 0;
    for (let j = 0; j < jointCount; j++) {
      if (j === joint) continue;
      if (locked.has(j)) kept += dense[row + j]!;
      else others += dense[row + j]!;
    }
    const room = Math.max(0, 1 - kept);
    const value = others > 0 ? Math.min(room, Math.max(0, target[i]!)) : room;
    const scale = others > 0 ? (room - value) / others : 0;
    for (let j = 0; j < jointCount; j++) {
      if (j !== joint && !locked.has(j)) dense[row + j] = dense[row + j]! * scale;
    }
    dense[row + joint] = value;
  }
}
