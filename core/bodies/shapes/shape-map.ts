import {
  cross,
  dot,
  type MutableVector3,
  normalise,
  type Rotation,
  rotate,
  rotationFromAxes,
  transformPoint,
  type Vector3,
} from '../../math/index.ts';

/** A similarity: moves, turns, scales alike in all directions, and may mirror. */
export interface ShapeMap {
  position(p: Vector3): MutableVector3;
  /** A direction, of unit length again. */
  direction(d: Vector3): MutableVector3;
  /** A frame: where its axes come to, the first turned round when the map mirrors. */
  rotation(q: Readonly<Rotation>): Rotation;
  scale: number;
}

/**
 * The similarity of a matrix; what a matrix scales unevenly is scaled by the cube root of its volume.
 * @param matrix - [16], by columns, of some volume.
 */
export function createShapeMap(matrix: ArrayLike<number>): ShapeMap {
  const m = Float64Array.from(matrix);
  const out = new Float64Array(3);
  const linear = ([x, y, z]: Vector3): MutableVector3 => [
    m[0]! * x + m[4]! * y + m[8]! * z,
    m[1]! * x + m[5]! * y + m[9]! * z,
    m[2]! * x + m[6]! * y + m[10]! * z,
  ];
  const volume = dot(linear([1, 0, 0]), cross(linear([0, 1, 0]), linear([0, 0, 1])));
  const direction = (d: Vector3): MutableVector3 => normalise(linear(d));
  return {
    position: (place) => {
      transformPoint(out, 0, m, 0, ...place);
      return [out[0]!, out[1]!, out[2]!];
    },
    direction,
    rotation: (turn) => {
      const [x, y, z] = direction(rotate(turn, [1, 0, 0]));
      const sign = volume < 0 ? -1 : 1;
      return rotationFromAxes([sign * x, sign * y, sign * z], direction(rotate(turn, [0, 1, 0])));
    },
    scale: Math.cbrt(Math.abs(volume)),
  };
}

/** A change of size about the origin. */
export function createScaleMap(scale: number): ShapeMap {
  return {
    position: ([x, y, z]) => [scale * x, scale * y, scale * z],
    direction: (d) => [...d],
    rotation: (q) => [...q],
    scale,
  };
}
