import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { checkLength } from './assert.ts';

export interface ClosestPoint {
  /** Metres, same space as the mesh. */
  point: [number, number, number];
  distance: number;
  triangle: number;
}

export interface RayHit {
  point: [number, number, number];
  distance: number;
  /** Index of the triangle in the array given to the constructor. */
  triangle: number;
}

/**
 * A tree of boxes over a triangle mesh that answers closest-point and ray queries, and follows the mesh when
 * its vertices move.
 *
 * The tree is `three-mesh-bvh`'s, used as a plain data structure: nothing here draws. The only file that knows it.
 */
export class SpatialIndex {
  readonly #positions: BufferAttribute;
  readonly #tree: MeshBVH;
  readonly #query = new Vector3();
  readonly #hit = { point: new Vector3(), distance: 0, faceIndex: -1 };
  readonly #ray = new Ray();

  /**
   * @param positions - [n, 3] metres. Kept, not copied: write into it, then call `refit`.
   * @param triangles - [t, 3] indices. Copied.
   */
  constructor(positions: Float32Array, triangles: Uint32Array) {
    const geometry = new BufferGeometry();
    this.#positions = new BufferAttribute(positions, 3);
    geometry.setAttribute('position', this.#positions);
    geometry.setIndex(new BufferAttribute(triangles.slice(), 1));
    // `indirect` keeps the order of the triangles, so that answers name the caller's triangles.
    this.#tree = new MeshBVH(geometry, { indirect: true, targetLeafSize: 6 });
  }

  /** Follows new positions. O(n). @param positions - [n, 3]; may be the array the index was made with. */
  refit(positions: Float32Array): void {
    const target = this.#positions.array as Float32Array;
    checkLength('positions', positions, target.length);
    if (target !== positions) target.set(positions);
    this.#tree.refit();
  }

  /** @returns The closest point within `maxDistance` metres, or null. Allocates one small object. */
  findClosest(x: number, y: number, z: number, maxDistance = Number.POSITIVE_INFINITY): ClosestPoint | null {
    this.#query.set(x, y, z);
    const hit = this.#tree.closestPointToPoint(this.#query, this.#hit, 0, maxDistance);
    // The tree gives back what lies in a box that begins within the limit, and perhaps not the closest of what is beyond.
    if (!hit || hit.distance > maxDistance) return null;
    return {
      point: [hit.point.x, hit.point.y, hit.point.z],
      distance: hit.distance,
      triangle: hit.faceIndex,
    };
  }

  /** Whether any triangle within a distance (m) of a place passes a test. */
  hasWithin(x: number, y: number, z: number, distance: number, test: (triangle: number) => boolean): boolean {
    const place = new Vector3(x, y, z);
    return this.#tree.shapecast({
      intersectsBounds: (box) => box.distanceToPoint(place) <= distance,
      intersectsTriangle: (triangle, index) =>
        triangle.closestPointToPoint(place, this.#query).distanceTo(place) <= distance && test(index),
    });
  }

  /** First hit of a ray, both faces counted. Direction of unit length. */
  castRay(origin: ArrayLike<number>, direction: ArrayLike<number>, maxDistance = 1e9): RayHit | null {
    this.#ray.origin.set(origin[0]!, origin[1]!, origin[2]!);
    this.#ray.direction.set(direction[0]!, direction[1]!, direction[2]!);
    const hit = this.#tree.raycastFirst(this.#ray, DoubleSide, 0, maxDistance);
    if (!hit || hit.faceIndex === undefined || hit.faceIndex === null) return null;
    return {
      point: [hit.point.x, hit.point.y, hit.point.z],
      distance: hit.distance,
      triangle: hit.faceIndex,
    };
  }
}
