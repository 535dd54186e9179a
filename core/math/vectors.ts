/** Three numbers: a place or a direction. */
export type Vector3 = readonly [number, number, number];

export type MutableVector3 = [number, number, number];

/** From q to p. */
export function subtract(p: Vector3, q: Vector3): MutableVector3 {
  return [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
}

/** From p so many times along d. */
export function addScaled(p: Vector3, d: Vector3, times: number): MutableVector3 {
  return [p[0] + times * d[0], p[1] + times * d[1], p[2] + times * d[2]];
}

/** How far p is from q. */
export function distanceBetween(p: Vector3, q: Vector3): number {
  const [x, y, z] = subtract(p, q);
  return Math.sqrt(x * x + y * y + z * z);
}

/** The scalar product: how far the one reaches along the other, times the length of the other. */
export function dot(p: Vector3, q: Vector3): number {
  return p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
}

/** The vector product: square to both, right-handed, as long as the area that they span. */
export function cross(p: Vector3, q: Vector3): MutableVector3 {
  return [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
}

/** Of length one; nothing stays nothing. The square root is rounded alike everywhere, which `Math.hypot` is not. */
export function normalise([x, y, z]: Vector3): MutableVector3 {
  const length = Math.sqrt(x * x + y * y + z * z);
  return length > 0 ? [x / length, y / length, z / length] : [0, 0, 0];
}

/**
 * The normal of a triangle, as long as twice its area; a vector of another length, or of none, says nothing of its direction.
 *
 * @param positions - Places of at least three numbers each. @param a, b, c - Where those of the corners begin in them.
 * @param out - Is written and given back. Callers in loops keep one, and read it by index: taking it apart is slow.
 */
export function writeTriangleCross(
  positions: ArrayLike<number>,
  a: number,
  b: number,
  c: number,
  out: MutableVector3,
): MutableVector3 {
  const ux = positions[b]! - positions[a]!;
  const uy = positions[b + 1]! - positions[a + 1]!;
  const uz = positions[b + 2]! - positions[a + 2]!;
  const vx = positions[c]! - positions[a]!;
  const vy = positions[c + 1]! - positions[a + 1]!;
  const vz = positions[c + 2]! - positions[a + 2]!;
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
  return out;
}
