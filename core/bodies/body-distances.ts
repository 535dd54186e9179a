import { dot, invertAffine, meanScale, transformPoint, writeClosestWeights } from '../math/index.ts';
import { BODY_STRIDE, packBodies } from './body-shape.ts';
import { type CollisionShape, isRound } from './collision-shape.ts';
import { computeHullPlanes, listHullTriangles } from './hull-planes.ts';
import { listBoxCorners } from './list-box-corners.ts';
import { poseCapsules } from './pose-capsules.ts';
import { type CapsuleHit, createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

/** Half the side of the box of an endless shape, m. */
const ENDLESS = 1e6;

/** One body that is not round: its faces in its joint's space, and in the world. */
interface FlatBody {
  node: number;
  /** m, in joint space and in the world. */
  margin: number;
  posedMargin: number;
  /** Rows of nx ny nz d, in joint space. */
  planes: readonly number[][];
  /** [n, 3] in joint space; null when the shape is endless. */
  corners: Float32Array | null;
  triangles: readonly number[];
  posedPlanes: Float64Array;
  posedCorners: Float32Array;
}

/**
 * Signed distances from bodies in a pose, as they are: of boxes and hulls to their corners and edges too, where a solver goes by their
 * planes alone. A margin goes round corners. Ours.
 */
export class BodyDistances {
  readonly count: number;
  /** Of each body its capsule, or its place among the others as -1 - place. */
  readonly #places: Int32Array;
  readonly #rows: Float32Array;
  readonly #nodes: Int32Array;
  readonly #posed: Float32Array;
  readonly #flat: FlatBody[] = [];
  /** Low and high corner of each body, margin included. [m, 6] */
  readonly #boxes: Float64Array;
  readonly #hit: CapsuleHit = createCapsuleHit();
  readonly #weights = { b: 0, c: 0 };
  /** Outward unit normal at what was measured last. */
  readonly normal = new Float64Array(3);

  constructor(shapes: readonly CollisionShape[]) {
    this.count = shapes.length;
    let capsules = 0;
    this.#places = Int32Array.from(shapes, (shape) => {
      if (isRound(shape)) return capsules++;
      this.#flat.push(createFlatBody(shape));
      return -this.#flat.length;
    });
    const { rows, nodes } = packBodies(shapes.filter(isRound));
    this.#rows = rows;
    this.#nodes = nodes;
    this.#posed = rows.slice();
    this.#boxes = new Float64Array(6 * shapes.length);
  }

  /** @param worldMatrices - Of all nodes, [n, 16]. */
  pose(worldMatrices: Float64Array): void {
    poseCapsules(this.#rows, this.#nodes, worldMatrices, this.#posed);
    for (const body of this.#flat) poseFlatBody(body, worldMatrices);
    this.#places.forEach((place, i) => {
      if (place >= 0) this.#boundCapsule(BODY_STRIDE * place, 6 * i);
      else this.#boundFlat(this.#flat[-1 - place]!, 6 * i);
    });
  }

  /**
   * Signed distance of a place from one body, m: negative inside.
   * @param most - Where it is farther than this from the body's box, something farther than `most` is told instead.
   */
  measure(body: number, x: number, y: number, z: number, most = Number.POSITIVE_INFINITY): number {
    const beyond = this.#measureBox(6 * body, x, y, z);
    if (beyond > most) return beyond;
    const place = this.#places[body]!;
    return place < 0
      ? this.#measureFlat(this.#flat[-1 - place]!, x, y, z)
      : this.#measureRound(place, x, y, z);
  }

  /** The same as a solver sees it: of boxes and hulls by their planes alone, which are square around corners. */
  measureMet(body: number, x: number, y: number, z: number, most = Number.POSITIVE_INFINITY): number {
    const beyond = this.#measureBox(6 * body, x, y, z);
    if (beyond > most) return beyond;
    const place = this.#places[body]!;
    if (place >= 0) return this.#measureRound(place, x, y, z);
    const flat = this.#flat[-1 - place]!;
    return this.#measurePlanes(flat, x, y, z) - flat.posedMargin;
  }

  #measureRound(place: number, x: number, y: number, z: number): number {
    const hit = this.#hit;
    measureTaperedCapsule(this.#posed, BODY_STRIDE * place, x, y, z, hit);
    this.normal[0] = hit.nx;
    this.normal[1] = hit.ny;
    this.normal[2] = hit.nz;
    return hit.distance;
  }

  /** Distance from the farthest of the planes. */
  #measurePlanes({ posedPlanes }: FlatBody, x: number, y: number, z: number): number {
    let most = Number.NEGATIVE_INFINITY;
    for (let p = 0; p < posedPlanes.length; p += 4) {
      const [nx, ny, nz] = [posedPlanes[p]!, posedPlanes[p + 1]!, posedPlanes[p + 2]!];
      const distance = nx * x + ny * y + nz * z - posedPlanes[p + 3]!;
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

  #measureFlat(body: FlatBody, x: number, y: number, z: number): number {
    const { posedCorners, corners, triangles, posedMargin } = body;
    const most = this.#measurePlanes(body, x, y, z);
    if (most <= 0 || !corners) return most - posedMargin;
    let least = Number.POSITIVE_INFINITY;
    for (let t = 0; t < triangles.length; t += 3) {
      const squared = this.#squaredToTriangle(
        posedCorners,
        3 * triangles[t]!,
        3 * triangles[t + 1]!,
        3 * triangles[t + 2]!,
        x,
        y,
        z,
      );
      if (squared < least) least = squared;
    }
    return Math.sqrt(least) - posedMargin;
  }

  #squaredToTriangle(
    v: Float32Array,
    a: number,
    b: number,
    c: number,
    x: number,
    y: number,
    z: number,
  ): number {
    const [ux, uy, uz] = [v[b]! - v[a]!, v[b + 1]! - v[a + 1]!, v[b + 2]! - v[a + 2]!];
    const [wx, wy, wz] = [v[c]! - v[a]!, v[c + 1]! - v[a + 1]!, v[c + 2]! - v[a + 2]!];
    const [qx, qy, qz] = [x - v[a]!, y - v[a + 1]!, z - v[a + 2]!];
    const weights = this.#weights;
    writeClosestWeights(
      ux * ux + uy * uy + uz * uz,
      ux * wx + uy * wy + uz * wz,
      wx * wx + wy * wy + wz * wz,
      ux * qx + uy * qy + uz * qz,
      wx * qx + wy * qy + wz * qz,
      weights,
    );
    const dx = qx - weights.b * ux - weights.c * wx;
    const dy = qy - weights.b * uy - weights.c * wy;
    const dz = qz - weights.b * uz - weights.c * wz;
    return dx * dx + dy * dy + dz * dz;
  }

  #boundCapsule(r: number, o: number): void {
    const row = this.#posed;
    for (let k = 0; k < 3; k++) {
      this.#boxes[o + k] = Math.min(row[r + k]! - row[r + 3]!, row[r + 4 + k]! - row[r + 7]!);
      this.#boxes[o + 3 + k] = Math.max(row[r + k]! + row[r + 3]!, row[r + 4 + k]! + row[r + 7]!);
    }
  }

  #boundFlat({ corners, posedCorners, posedMargin }: FlatBody, o: number): void {
    const boxes = this.#boxes;
    boxes.fill(corners ? Number.POSITIVE_INFINITY : -ENDLESS, o, o + 3);
    boxes.fill(corners ? Number.NEGATIVE_INFINITY : ENDLESS, o + 3, o + 6);
    for (let i = 0; i < posedCorners.length; i++) {
      const k = i % 3;
      boxes[o + k] = Math.min(boxes[o + k]!, posedCorners[i]! - posedMargin);
      boxes[o + 3 + k] = Math.max(boxes[o + 3 + k]!, posedCorners[i]! + posedMargin);
    }
  }
}

type FlatShape = Exclude<CollisionShape, { radiusA: number }>;

function createFlatBody(shape: FlatShape): FlatBody {
  const { node, margin = 0 } = shape;
  const isPlane = shape.kind === 'plane';
  const corners = isPlane ? null : shape.kind === 'hull' ? shape.points : listBoxCorners(shape);
  const planes = isPlane ? [[...shape.normal, dot(shape.normal, shape.point)]] : computeHullPlanes(corners!);
  return {
    node,
    margin,
    posedMargin: margin,
    planes,
    corners,
    triangles: corners ? listHullTriangles(corners) : [],
    posedPlanes: new Float64Array(4 * planes.length),
    posedCorners: new Float32Array(corners?.length ?? 0),
  };
}

/** A plane goes through the inverse transpose of its joint's matrix. */
function poseFlatBody(body: FlatBody, worldMatrices: Float64Array): void {
  const { node, planes, corners, posedPlanes, posedCorners } = body;
  const m = 16 * node;
  body.posedMargin = body.margin * meanScale(worldMatrices, m);
  const inverse = new Float64Array(16);
  const isSound = invertAffine(inverse, 0, worldMatrices, m);
  const point = new Float64Array(3);
  planes.forEach(([nx, ny, nz, d], p) => {
    const n = [0, 1, 2].map(
      (c) => inverse[4 * c]! * nx! + inverse[4 * c + 1]! * ny! + inverse[4 * c + 2]! * nz!,
    );
    const length = Math.sqrt(n[0]! ** 2 + n[1]! ** 2 + n[2]! ** 2);
    if (!isSound || !(length > 0)) {
      // On a joint that is flattened there is nothing to be near.
      posedPlanes.set([0, 1, 0, -ENDLESS], 4 * p);
      return;
    }
    transformPoint(point, 0, worldMatrices, m, nx! * d!, ny! * d!, nz! * d!);
    const [x, y, z] = n.map((value) => value / length) as [number, number, number];
    posedPlanes.set([x, y, z, x * point[0]! + y * point[1]! + z * point[2]!], 4 * p);
  });
  if (!corners) return;
  for (let i = 0; i < corners.length; i += 3)
    transformPoint(posedCorners, i, worldMatrices, m, corners[i]!, corners[i + 1]!, corners[i + 2]!);
}
