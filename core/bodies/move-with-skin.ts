import {
  addScaled,
  distanceBetween,
  dot,
  IDENTITY_MATRIX,
  type MutableVector3,
  normalise,
  rotate,
  solveDense,
  subtract,
  type Vector3,
} from '../math/index.ts';
import { BodyDistances } from './body-distances.ts';
import { type BodyShape, getRoundShape, isRoundBody, meetShape } from './body-shape.ts';
import type { BoxBody } from './shapes/box.ts';
import type { PlaneBody } from './shapes/plane.ts';
import type { RoundShape } from './shapes/round-shape.ts';
import { limitSize } from './shapes/shape-definition.ts';

/** Skin so near to a body's surface, m, is what it stands for; of a plane, so near to its middle. */
const NEAR = 0.03;
const NEAR_PLANE = 0.3;
/** Points that are looked at, spread over all that are near. */
const MOST_POINTS = 400;
/** Fewer points say nothing. */
const LEAST_POINTS = 8;
/** What the way of the skin along the surface counts against that through it. */
const ALONG = 0.05;
/** What keeps unknowns that no point speaks of where they are. */
const STAY = 1e-4;
/** Points that a corner of a hull goes with. */
const AROUND_CORNER = 8;

const AXES: readonly Vector3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** A point of the skin near a body, how it moves, and the outward normal of the body there. */
interface NearPoint {
  place: MutableVector3;
  way: MutableVector3;
  normal: MutableVector3;
}

/**
 * A shape moved as the skin near it moves: its surface goes along its normals as the skin does there, in the sense of least squares, for
 * its ends and radii, or its middle and sides; corners of a hull go with the points around them. Exact where the skin moves as one, or
 * swells evenly. Ours.
 *
 * @param margin - Around the shape, m. @param before, after - Places of the skin in the shape's space, [n, 3] m each.
 * @returns The very same shape when no skin is near it, or none of it moves.
 */
export function moveWithSkin<S extends BodyShape>(
  shape: S,
  margin: number,
  before: Float32Array,
  after: Float32Array,
): S {
  const points = findNear(shape, margin, before, after);
  if (points.length < LEAST_POINTS || points.every(({ way }) => dot(way, way) === 0)) return shape;
  if (isRoundBody(shape)) return moveRound(shape, points) as S;
  switch (shape.kind) {
    case 'box':
      return moveBox(shape, points) as S;
    case 'plane':
      return movePlane(shape, points) as S;
    default:
      return { ...shape, points: moveCorners(shape.points, points) };
  }
}

function findNear(shape: BodyShape, margin: number, before: Float32Array, after: Float32Array): NearPoint[] {
  const distances = new BodyDistances([meetShape(shape, 0, margin)]);
  distances.pose(Float64Array.from(IDENTITY_MATRIX));
  const near: number[] = [];
  for (let o = 0; o < before.length; o += 3) {
    const [x, y, z] = [before[o]!, before[o + 1]!, before[o + 2]!];
    if (Math.abs(distances.measure(0, x, y, z, NEAR)) > NEAR) continue;
    if (shape.kind === 'plane' && distanceBetween([x, y, z], shape.point) > NEAR_PLANE) continue;
    near.push(o);
  }
  const found: NearPoint[] = [];
  const stride = Math.ceil(near.length / MOST_POINTS);
  for (let i = 0; i < near.length; i += stride) {
    const o = near[i]!;
    const place: MutableVector3 = [before[o]!, before[o + 1]!, before[o + 2]!];
    distances.measure(0, ...place);
    const way = subtract([after[o]!, after[o + 1]!, after[o + 2]!], place);
    found.push({ place, way, normal: [...distances.normal] as MutableVector3 });
  }
  return found;
}

function moveRound(shape: RoundShape, points: readonly NearPoint[]): RoundShape {
  const { a, b } = getRoundShape(shape);
  const axis = subtract(b, a);
  const squared = dot(axis, axis);
  const isBall = squared === 0;
  const hasRadii = shape.kind === 'taperedCapsule';
  // Ways of a and b, and how much the radii grow: one for both where the shape has one.
  const system = new Squares(8);
  for (const { place, way, normal } of points) {
    const t = isBall ? 0 : Math.min(1, Math.max(0, dot(subtract(place, a), axis) / squared));
    const away = subtract(place, addScaled(a, axis, t));
    const out = dot(away, away) > 0 ? normalise(away) : normal;
    system.addWay(way, out, (k) => {
      const row = new Float64Array(8);
      row[k] = 1 - t;
      row[3 + k] = t;
      row[6] = (hasRadii ? 1 - t : 1) * out[k]!;
      row[7] = (hasRadii ? t : 0) * out[k]!;
      return row;
    });
  }
  const x = system.solve();
  const move = (end: Vector3, o: number): MutableVector3 => [
    end[0] + x[o]!,
    end[1] + x[o + 1]!,
    end[2] + x[o + 2]!,
  ];
  const radiusA = limitSize(shape.radiusA + x[6]!);
  return {
    ...shape,
    a: move(shape.a, 0),
    b: move(shape.b, isBall ? 0 : 3),
    radiusA,
    radiusB: hasRadii ? limitSize(shape.radiusB + x[7]!) : limitSize(shape.radiusB + x[6]!),
  };
}

function moveBox(shape: BoxBody, points: readonly NearPoint[]): BoxBody {
  const axes = AXES.map((axis) => rotate(shape.rotation, axis));
  const system = new Squares(6);
  for (const { place, way } of points) {
    const local = axes.map((axis) => dot(subtract(place, shape.centre), axis));
    const shares = local.map((value, k) => Math.abs(value) / shape.halfSize[k]!);
    const side = shares.indexOf(Math.max(...shares));
    const out = axes[side]!.map((value) => Math.sign(local[side]!) * value) as MutableVector3;
    system.addWay(way, out, (k) => {
      const row = new Float64Array(6);
      row[k] = 1;
      row[3 + side] = out[k]!;
      return row;
    });
  }
  const x = system.solve();
  return {
    ...shape,
    centre: shape.centre.map((value, k) => value + x[k]!) as MutableVector3,
    halfSize: shape.halfSize.map((half, k) => limitSize(half + x[3 + k]!)) as MutableVector3,
  };
}

function movePlane(shape: PlaneBody, points: readonly NearPoint[]): PlaneBody {
  const rise = points.reduce((sum, { way }) => sum + dot(way, shape.normal), 0) / points.length;
  return { ...shape, point: addScaled(shape.point, shape.normal, rise) };
}

function moveCorners(corners: readonly number[], points: readonly NearPoint[]): number[] {
  const moved = [...corners];
  for (let o = 0; o < corners.length; o += 3) {
    const corner: MutableVector3 = [corners[o]!, corners[o + 1]!, corners[o + 2]!];
    const around = points
      .map(({ place, way }) => {
        const off = subtract(place, corner);
        return { squared: dot(off, off), way };
      })
      .sort((p, q) => p.squared - q.squared)
      .slice(0, AROUND_CORNER);
    const weights = around.map(({ squared }) => 1 / (squared + NEAR * NEAR * 0.01));
    const total = weights.reduce((sum, weight) => sum + weight, 0);
    for (let k = 0; k < 3; k++)
      moved[o + k] =
        corners[o + k]! + around.reduce((sum, { way }, i) => sum + (weights[i]! / total) * way[k]!, 0);
  }
  return moved;
}

/** Sums of squares of linear rows, for few unknowns. */
class Squares {
  readonly #size: number;
  readonly #matrix: Float64Array;
  readonly #right: Float64Array;
  #count = 0;

  constructor(size: number) {
    this.#size = size;
    this.#matrix = new Float64Array(size * size);
    this.#right = new Float64Array(size);
  }

  /** Asks that a surface point moves a way: wholly along its normal, and a little along the surface. @param rowOf - Coefficients of a component. */
  addWay(way: Vector3, normal: Vector3, rowOf: (k: number) => Float64Array): void {
    const rows = [0, 1, 2].map(rowOf);
    this.#count++;
    this.#add(combine(rows, normal), dot(way, normal), 1);
    for (let k = 0; k < 3; k++) this.#add(rows[k]!, way[k]!, ALONG * ALONG);
  }

  solve(): Float64Array {
    for (let i = 0; i < this.#size; i++)
      this.#matrix[this.#size * i + i] = this.#matrix[this.#size * i + i]! + STAY * STAY * this.#count;
    return solveDense(this.#matrix, this.#right);
  }

  #add(row: Float64Array, value: number, weight: number): void {
    const n = this.#size;
    for (let i = 0; i < n; i++) {
      if (row[i] === 0) continue;
      this.#right[i] = this.#right[i]! + weight * row[i]! * value;
      for (let j = 0; j < n; j++)
        this.#matrix[n * i + j] = this.#matrix[n * i + j]! + weight * row[i]! * row[j]!;
    }
  }
}

function combine(rows: readonly Float64Array[], normal: Vector3): Float64Array {
  return rows[0]!.map((_, i) => rows.reduce((sum, row, k) => sum + normal[k]! * row[i]!, 0));
}
