import { squaredToTriangle, transformPoint } from '../math/index.ts';
import { BODY_STRIDE } from './body-shape.ts';
import { type CollisionShape, isRound } from './collision-shape.ts';
import { listHullTriangles } from './hull-planes.ts';
import {
  createPosedCollision,
  type PackedCollision,
  type PosedCollision,
  packCollision,
  poseCollision,
} from './pose-collision.ts';
import { type CapsuleHit, createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

/** Surface of a hull or box between its corners, as rows of these; and the corners in the world. Empty of what is endless. */
interface Facets {
  triangles: readonly [number, number, number][];
  posedCorners: Float32Array;
}

/**
 * Signed distances from bodies in a pose: of boxes and hulls also exactly, to their corners and edges, where a solver goes by their planes
 * alone. Ours.
 */
export class BodyDistances {
  readonly count: number;
  /** Of each body its capsule, or its place among the others as -1 - place. */
  readonly #places: Int32Array;
  readonly #packed: PackedCollision;
  readonly #posed: PosedCollision;
  readonly #facets: readonly Facets[];
  /** Low and high corner of each body, margin included. [m, 6] */
  readonly #boxes: Float64Array;
  readonly #hit: CapsuleHit = createCapsuleHit();
  /** Outward unit normal at what was measured last. */
  readonly normal = new Float64Array(3);

  constructor(shapes: readonly CollisionShape[]) {
    this.count = shapes.length;
    let [capsules, others] = [0, 0];
    this.#places = Int32Array.from(shapes, (shape) => (isRound(shape) ? capsules++ : -1 - others++));
    this.#packed = packCollision(shapes);
    this.#posed = createPosedCollision(this.#packed);
    this.#facets = this.#packed.hulls.map(({ corners }) => createFacets(corners));
    this.#boxes = new Float64Array(6 * shapes.length);
  }

  /** @param worldMatrices - Of all nodes, [n, 16]. */
  pose(worldMatrices: Float64Array): void {
    poseCollision(this.#packed, worldMatrices, this.#posed);
    this.#packed.hulls.forEach(({ corners, node }, h) => {
      const { posedCorners } = this.#facets[h]!;
      for (let i = 0; i < posedCorners.length; i += 3)
        transformPoint(
          posedCorners,
          i,
          worldMatrices,
          16 * node,
          corners![i]!,
          corners![i + 1]!,
          corners![i + 2]!,
        );
    });
    this.#places.forEach((place, i) => {
      if (place >= 0) this.#boundCapsule(BODY_STRIDE * place, 6 * i);
      else this.#boundHull(8 * (-1 - place), 6 * i);
    });
  }

  /**
   * Signed distance of a place from one body, m: negative inside. A margin goes round the corners of boxes and hulls.
   * @param most - Where it is farther than this from the body's box, something farther than `most` is told instead.
   */
  measure(body: number, x: number, y: number, z: number, most = Number.POSITIVE_INFINITY): number {
    const met = this.measureMet(body, x, y, z, most);
    const place = this.#places[body]!;
    if (place >= 0 || met > most) return met;
    const { triangles, posedCorners } = this.#facets[-1 - place]!;
    const margin = this.#posed.margins[-1 - place]!;
    // Beside its faces and inside, planes say all.
    if (triangles.length === 0 || met <= -margin) return met;
    let least = Number.POSITIVE_INFINITY;
    for (const triangle of triangles)
      least = Math.min(least, squaredToTriangle(posedCorners, triangle, x, y, z));
    return Math.sqrt(least) - margin;
  }

  /** The same as a solver sees it: of boxes and hulls by their planes alone, which are square around corners. */
  measureMet(body: number, x: number, y: number, z: number, most = Number.POSITIVE_INFINITY): number {
    const beyond = this.#measureBox(6 * body, x, y, z);
    if (beyond > most) return beyond;
    const place = this.#places[body]!;
    return place < 0 ? this.#measurePlanes(-1 - place, x, y, z) : this.#measureRound(place, x, y, z);
  }

  #measureRound(place: number, x: number, y: number, z: number): number {
    const hit = this.#hit;
    measureTaperedCapsule(this.#posed.capsules, BODY_STRIDE * place, x, y, z, hit);
    this.normal[0] = hit.nx;
    this.normal[1] = hit.ny;
    this.normal[2] = hit.nz;
    return hit.distance;
  }

  /** Distance from the farthest of the planes. */
  #measurePlanes(hull: number, x: number, y: number, z: number): number {
    const { planes, starts } = this.#posed;
    let most = Number.NEGATIVE_INFINITY;
    for (let p = 4 * starts[hull]!; p < 4 * starts[hull + 1]!; p += 4) {
      const [nx, ny, nz] = [planes[p]!, planes[p + 1]!, planes[p + 2]!];
      const distance = nx * x + ny * y + nz * z - planes[p + 3]!;
      if (distance <= most) continue;
      most = distance;
      this.normal[0] = nx;
      this.normal[1] = ny;
      this.normal[2] = nz;
    }
    return most;
  }

  #measureBox(o: number, x: number, y: number, z: number): number {
    const b = this.#boxes;
    const dx = Math.max(b[o]! - x, 0, x - b[o + 3]!);
    const dy = Math.max(b[o + 1]! - y, 0, y - b[o + 4]!);
    const dz = Math.max(b[o + 2]! - z, 0, z - b[o + 5]!);
    return Math.sqrt(dx * dx + dy * dy + dz * dz);
  }

  #boundCapsule(r: number, o: number): void {
    const row = this.#posed.capsules;
    for (let k = 0; k < 3; k++) {
      this.#boxes[o + k] = Math.min(row[r + k]! - row[r + 3]!, row[r + 4 + k]! - row[r + 7]!);
      this.#boxes[o + 3 + k] = Math.max(row[r + k]! + row[r + 3]!, row[r + 4 + k]! + row[r + 7]!);
    }
  }

  #boundHull(r: number, o: number): void {
    for (let k = 0; k < 3; k++) {
      this.#boxes[o + k] = this.#posed.boxes[r + k]!;
      this.#boxes[o + 3 + k] = this.#posed.boxes[r + 4 + k]!;
    }
  }
}

function createFacets(corners: readonly number[] | null): Facets {
  const posedCorners = new Float32Array(corners?.length ?? 0);
  const listed = corners ? listHullTriangles(Float32Array.from(corners)) : [];
  const triangles: [number, number, number][] = [];
  for (let t = 0; t < listed.length; t += 3)
    triangles.push([3 * listed[t]!, 3 * listed[t + 1]!, 3 * listed[t + 2]!]);
  return { triangles, posedCorners };
}
