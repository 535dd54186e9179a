import { Vector3 } from 'three';
import { ConvexHull } from 'three/addons/math/ConvexHull.js';

/**
 * Planes of the convex hull of points, outward unit normals: n · x ≤ d inside. Faces in one plane give it once.
 *
 * @param points - [n, 3] metres, at least four that do not lie in one plane.
 * @returns Rows of nx ny nz d.
 * @throws {RangeError} When the points span no volume.
 *
 * The hull itself is the drawing library's; nothing here draws. The only file that knows it.
 */
export function computeHullPlanes(points: Float32Array): number[][] {
  const vectors: Vector3[] = [];
  for (let i = 0; i < points.length; i += 3) {
    vectors.push(new Vector3(points[i], points[i + 1], points[i + 2]));
  }
  if (vectors.length < 4)
    throw new RangeError(`A hull of ${vectors.length} points has no volume; use four or more.`);
  const hull = new ConvexHull().setFromPoints(vectors);
  const planes: number[][] = [];
  for (const face of hull.faces) {
    const { normal } = face;
    if (!(normal.lengthSq() > 0.5)) continue;
    // The normal of a face between points that nearly coincide is noise; its plane is put outside of all points.
    const constant = vectors.reduce(
      (most, vector) => Math.max(most, normal.dot(vector)),
      Number.NEGATIVE_INFINITY,
    );
    const isKnown = planes.some(
      (plane) =>
        plane[0]! * normal.x + plane[1]! * normal.y + plane[2]! * normal.z > SAME_DIRECTION &&
        Math.abs(plane[3]! - constant) < SAME_PLANE,
    );
    if (!isKnown) planes.push([normal.x, normal.y, normal.z, constant]);
  }
  if (planes.length < 4) throw new RangeError('The points of the hull lie in one plane; it has no volume.');
  return planes;
}

/** Cosine beyond which two normals, and metres within which two offsets, count as one plane: 0.08° and 0.1 mm. */
const SAME_DIRECTION = 0.999999;
const SAME_PLANE = 1e-4;

/**
 * Triangles of the convex hull of points, turned outward: numbers of points, three each.
 *
 * @param points - [n, 3] metres, at least four that do not lie in one plane.
 */
export function listHullTriangles(points: Float32Array): number[] {
  const vectors = Array.from(
    { length: points.length / 3 },
    (_, i) => new Vector3(points[3 * i], points[3 * i + 1], points[3 * i + 2]),
  );
  const indexOf = new Map(vectors.map((vector, i) => [vector, i]));
  const triangles: number[] = [];
  for (const face of new ConvexHull().setFromPoints(vectors).faces) {
    let edge = face.edge;
    for (let corner = 0; corner < 3; corner++) {
      triangles.push(indexOf.get(edge.head().point as Vector3)!);
      edge = edge.next!;
    }
  }
  return triangles;
}

/** Whether points have a hull with some space in it. @param points - [n, 3] m. */
export function hasVolume(points: Float32Array): boolean {
  try {
    return points.every(Number.isFinite) && computeHullPlanes(points).length >= 4;
  } catch (error) {
    if (error instanceof RangeError) return false;
    throw error;
  }
}
