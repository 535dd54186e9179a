import { type MutableVector3, SpatialIndex, writeTriangleCross } from '../math/index.ts';
import { WindingNumber } from '../mesh/index.ts';
import type { BodyMesh } from './body-mesh.ts';

/** So near to the surface, m, the side of its triangle tells inside from outside; farther off edges and overlapping parts would deceive. */
const BY_TRIANGLE = 0.008;

/** Signed distances from a mesh that stands for a body, as it is posed: negative inside. Ours. */
export class MeshDistances {
  readonly #mesh: BodyMesh;
  readonly #margin: number;
  /** [p, 3] */
  readonly #places: Float32Array;
  readonly #index: SpatialIndex;
  readonly #winding: WindingNumber;
  /** The winding number is of an earlier pose. */
  #isWindingStale = true;
  /** Outward unit normal of the triangle that was measured last. */
  readonly normal: MutableVector3 = [0, 0, 0];

  /** @param margin - The surface lies so much farther out, m. */
  constructor(mesh: BodyMesh, margin: number) {
    this.#mesh = mesh;
    this.#margin = margin;
    this.#places = mesh.rows.positions.slice();
    this.#index = new SpatialIndex(this.#places.slice(), mesh.triangles);
    this.#winding = new WindingNumber(this.#places, mesh.triangles);
  }

  /** @param positions - World places of the mesh's points, [p, 4] m. */
  pose(positions: Float32Array): void {
    for (let p = 0; p < this.#mesh.pointCount; p++)
      for (let k = 0; k < 3; k++) this.#places[3 * p + k] = positions[4 * p + k]!;
    this.#index.refit(this.#places);
    this.#isWindingStale = true;
  }

  /** Signed distance of a place, m. */
  measure(x: number, y: number, z: number): number {
    const hit = this.#index.findClosest(x, y, z);
    if (!hit) return Number.POSITIVE_INFINITY;
    this.#takeNormal(hit.triangle);
    const [nx, ny, nz] = this.normal;
    const [fx, fy, fz] = hit.point;
    const isInside =
      hit.distance > BY_TRIANGLE
        ? this.#isInside(x, y, z)
        : nx * (x - fx) + ny * (y - fy) + nz * (z - fz) < 0;
    return (isInside ? -hit.distance : hit.distance) - this.#margin;
  }

  /** The signed distance of a place where it is less than another, m; infinite where it is not, which is told sooner. */
  measureBelow(x: number, y: number, z: number, least: number): number {
    const way = least + this.#margin;
    // Deeper inside than the other when nothing of the surface is as near as that; or outside, and nearer.
    const isNear = this.#index.findClosest(x, y, z, Math.abs(way)) !== null;
    if (way > 0 ? !isNear && !this.#isInside(x, y, z) : isNear || !this.#isInside(x, y, z))
      return Number.POSITIVE_INFINITY;
    const distance = this.measure(x, y, z);
    return distance < least ? distance : Number.POSITIVE_INFINITY;
  }

  /** Whether the surface is within a distance of a place, m, on whichever side. */
  isWithin(x: number, y: number, z: number, distance: number): boolean {
    const hit = this.#index.findClosest(x, y, z, distance + this.#margin);
    if (!hit) return false;
    this.#takeNormal(hit.triangle);
    return true;
  }

  #isInside(x: number, y: number, z: number): boolean {
    if (this.#isWindingStale) this.#winding.refit(this.#places);
    this.#isWindingStale = false;
    return this.#winding.measure(x, y, z) > 0.5;
  }

  #takeNormal(triangle: number): void {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * this.#mesh.triangles[3 * triangle + k]!) as MutableVector3;
    writeTriangleCross(this.#places, a, b, c, this.normal);
    const length = Math.sqrt(this.normal[0] ** 2 + this.normal[1] ** 2 + this.normal[2] ** 2) || 1;
    for (let k = 0; k < 3; k++) this.normal[k] = this.normal[k]! / length;
  }
}
