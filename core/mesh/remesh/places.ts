import { type MutableVector3, type Vector3, writeTriangleCross } from '../../math/index.ts';
import type { Surface } from '../surface.ts';
import type { EditableMesh } from './editable-mesh.ts';

/** Place of a point, m. */
export function getPosition(
  { positions: p }: { positions: ArrayLike<number> },
  point: number,
): [number, number, number] {
  return [p[3 * point]!, p[3 * point + 1]!, p[3 * point + 2]!];
}

/** Puts a point to a place, m. */
export function setPosition(
  { positions: p }: EditableMesh,
  point: number,
  position: readonly [number, number, number],
): void {
  for (let k = 0; k < 3; k++) p[3 * point + k] = position[k]!;
}

/** Way from a point to a place, m. */
export function distanceFrom(
  mesh: EditableMesh,
  point: number,
  position: readonly [number, number, number],
): number {
  const p = getPosition(mesh, point);
  return Math.sqrt((p[0] - position[0]) ** 2 + (p[1] - position[1]) ** 2 + (p[2] - position[2]) ** 2);
}

/** Whether the cosine between two directions is above a bound. Directions without a length face no way: false. */
export function facesAlike(u: Vector3, v: Vector3, cosine: number): boolean {
  const dot = u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
  const lengths = (u[0] ** 2 + u[1] ** 2 + u[2] ** 2) * (v[0] ** 2 + v[1] ** 2 + v[2] ** 2);
  return dot > cosine * Math.sqrt(lengths);
}

/** Normal of a triangle of three points, twice its area long. */
export function normalOf({ positions }: EditableMesh, a: number, b: number, c: number): MutableVector3 {
  return writeTriangleCross(positions, 3 * a, 3 * b, 3 * c, [0, 0, 0]);
}

/** Normal of a triangle of a surface, twice its area long. */
export function normalOfSource({ positions, triangles }: Surface, triangle: number): MutableVector3 {
  const t = 3 * triangle;
  return writeTriangleCross(
    positions,
    3 * triangles[t]!,
    3 * triangles[t + 1]!,
    3 * triangles[t + 2]!,
    [0, 0, 0],
  );
}
