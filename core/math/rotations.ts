import { cross, dot, type MutableVector3, normalise, type Vector3 } from './vectors.ts';

/** A turn as a unit quaternion, xyzw. */
export type Rotation = [number, number, number, number];

/** A vector turned. */
export function rotate([qx, qy, qz, qw]: Readonly<Rotation>, [x, y, z]: Vector3): MutableVector3 {
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  return [x + qw * tx + qy * tz - qz * ty, y + qw * ty + qz * tx - qx * tz, z + qw * tz + qx * ty - qy * tx];
}

/** The turn that brings X and Y to these directions; the second is set square to the first. */
export function rotationFromAxes(first: Vector3, second: Vector3): Rotation {
  const x = normalise(first);
  const z = normalise(cross(x, second));
  const y = cross(z, x);
  const q: Rotation = [y[2] - z[1], z[0] - x[2], x[1] - y[0], 1 + x[0] + y[1] + z[2]];
  if (q[3] < 0.1) {
    // Near a half turn the numbers above are small: the largest diagonal gives better ones.
    const k = x[0] > y[1] && x[0] > z[2] ? 0 : y[1] > z[2] ? 1 : 2;
    const axes = [x, y, z];
    const [i, j] = [(k + 1) % 3, (k + 2) % 3];
    q[k] = 1 + axes[k]![k]! - axes[i]![i]! - axes[j]![j]!;
    q[i] = axes[i]![k]! + axes[k]![i]!;
    q[j] = axes[j]![k]! + axes[k]![j]!;
    q[3] = axes[i]![j]! - axes[j]![i]!;
  }
  return normaliseRotation(q);
}

/** The shortest turn that brings one unit direction to another. */
export function rotationBetween(from: Vector3, to: Vector3): Rotation {
  const w = 1 + dot(from, to);
  if (w < 1e-9) return [...pickAcross(from), 0];
  return normaliseRotation([...cross(from, to), w]);
}

/** The second turn, and then the first. */
export function multiplyRotations(p: Readonly<Rotation>, q: Readonly<Rotation>): Rotation {
  const [ax, ay, az, aw] = p;
  const [bx, by, bz, bw] = q;
  return [
    aw * bx + ax * bw + ay * bz - az * by,
    aw * by - ax * bz + ay * bw + az * bx,
    aw * bz + ax * by - ay * bx + az * bw,
    aw * bw - ax * bx - ay * by - az * bz,
  ];
}

/** A turn of unit length again; nothing is no turn. */
export function normaliseRotation(q: Readonly<Rotation>): Rotation {
  const length = Math.sqrt(q[0] ** 2 + q[1] ** 2 + q[2] ** 2 + q[3] ** 2);
  return length > 0 ? (q.map((value) => value / length) as Rotation) : [0, 0, 0, 1];
}

/** Some unit direction square to another: across the axis that it is least along. */
export function pickAcross(d: Vector3): MutableVector3 {
  const sizes = d.map(Math.abs);
  const least = sizes.indexOf(Math.min(...sizes));
  return normalise(cross(d, [least === 0 ? 1 : 0, least === 1 ? 1 : 0, least === 2 ? 1 : 0]));
}

/**
 * Angles about X, then Y, then Z of fixed axes that make a turn, rad: -π to π, about Y -π/2 to π/2.
 * @see rotationFromAngles
 */
export function anglesOfRotation(q: Readonly<Rotation>): MutableVector3 {
  const x = rotate(q, [1, 0, 0]);
  const y = rotate(q, [0, 1, 0]);
  const z = rotate(q, [0, 0, 1]);
  const aboutY = Math.asin(Math.max(-1, Math.min(1, -x[2])));
  // Straight up or down X and Z are one: all is said by the first.
  if (Math.abs(x[2]) > 0.9999999) return [Math.atan2(-z[1], y[1]), aboutY, 0];
  return [Math.atan2(y[2], z[2]), aboutY, Math.atan2(x[1], x[0])];
}

/** The turn about X, then Y, then Z of fixed axes, rad. */
export function rotationFromAngles([x, y, z]: Vector3): Rotation {
  const about = (k: number, angle: number): Rotation => {
    const q: Rotation = [0, 0, 0, Math.cos(angle / 2)];
    q[k] = Math.sin(angle / 2);
    return q;
  };
  return multiplyRotations(about(2, z), multiplyRotations(about(1, y), about(0, x)));
}
