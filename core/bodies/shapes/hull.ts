import { array, number } from 'yup';
import {
  addScaled,
  distanceBetween,
  dot,
  invertAffine,
  normalise,
  type Rotation,
  rotate,
  rotationBetween,
  sampleTriangle,
  subtract,
  transformPoint,
} from '../../math/index.ts';
import { computeHullPlanes, hasVolume, listHullTriangles } from '../hull-planes.ts';
import type { Position, ShapeDefinition } from './shape-definition.ts';

/** The convex hull of some places. */
export interface HullBody {
  kind: 'hull';
  /** [n, 3] flat, m. */
  points: number[];
}

export const MOST_HULL_VERTICES = 48;
const KNOB = 1.5;
const UP: Position = [0, 1, 0];
const SIDE: Position = [1, 0, 0];

export const hull: ShapeDefinition<HullBody> = {
  label: 'Hull',
  fields: {
    points: array(number().required())
      .required()
      .min(12)
      .max(3 * MOST_HULL_VERTICES)
      .test(
        'volume',
        'a hull takes four or more vertices that enclose a space',
        (points) => (points?.length ?? 0) % 3 === 0 && hasVolume(Float32Array.from(points as number[])),
      ),
  },
  toMet: ({ points }) => ({ kind: 'hull', points: Float32Array.from(points) }),
  carry: ({ kind, points }, map) => ({ kind, points: mapPoints(points, map.position) }),
  grow: (shape, margin) => (margin === 0 ? shape : { ...shape, points: growPoints(shape.points, margin) }),
  listHandles: ({ points }) => {
    const middle = findMiddle(points);
    const size = measureRadius(points, middle);
    return [
      { id: 'whole', does: 'move', position: middle },
      { id: 'size', does: 'size', position: addScaled(middle, SIDE, size) },
      { id: 'turn', does: 'turn', position: addScaled(middle, UP, KNOB * size) },
    ];
  },
  moveHandle: (shape, id, to) => {
    const { points } = shape;
    const middle = findMiddle(points);
    const way = subtract(to, middle);
    if (id === 'whole') return { ...shape, points: mapPoints(points, (p) => addScaled(p, way, 1)) };
    if (id === 'turn')
      return { ...shape, points: turnPoints(points, middle, rotationBetween(UP, normalise(way))) };
    const factor = Math.max(0.05, distanceBetween(to, middle) / measureRadius(points, middle));
    return { ...shape, points: resize(points, middle, factor) };
  },
  listNumbers: (shape) => {
    const { points } = shape;
    const middle = findMiddle(points);
    const radius = measureRadius(points, middle);
    return [
      {
        label: 'Radius',
        unit: 'm',
        isSize: true,
        value: radius,
        change: (value): HullBody => ({ ...shape, points: resize(points, middle, value / radius) }),
      },
      ...middle.map((value, k) => ({
        label: 'Middle',
        unit: 'm' as const,
        isSize: false,
        value,
        change: (typed: number): HullBody => {
          const way: Position = [0, 0, 0];
          way[k] = typed - value;
          return { ...shape, points: mapPoints(points, (p) => addScaled(p, way, 1)) };
        },
      })),
    ];
  },
  sample: ({ points }) => sampleFaces(points),
  // A hull of a mesh in the file.
  toImplicit: () => null,
  getFrame: () => ({ translation: [0, 0, 0], rotation: [0, 0, 0, 1] }),
};

/** Places all over the faces: a few corners alone say little of what lies between them. */
function sampleFaces(points: readonly number[]): Float32Array {
  const triangles = listHullTriangles(Float32Array.from(points));
  const corner = (p: number): Position => points.slice(3 * p, 3 * p + 3) as Position;
  const places: number[] = [];
  for (let t = 0; t < triangles.length; t += 3)
    sampleTriangle([corner(triangles[t]!), corner(triangles[t + 1]!), corner(triangles[t + 2]!)], places);
  return Float32Array.from(places);
}

function mapPoints(points: readonly number[], map: (p: Position) => Position): number[] {
  const out: number[] = [];
  for (let i = 0; i < points.length; i += 3) out.push(...map([points[i]!, points[i + 1]!, points[i + 2]!]));
  return out;
}

/** A vertex lies on a face that it is so near to, m. */
const ON_FACE = 2e-4;

/** Each vertex to where the faces that meet in it come to when all move out; by least squares where more than three do. */
function growPoints(points: readonly number[], margin: number): number[] {
  const planes = computeHullPlanes(Float32Array.from(points));
  return mapPoints(points, (p) => {
    // Normal equations of n · d = margin over its faces; the small diagonal is for a vertex within a face.
    const m = [1e-9, 0, 0, 0, 1e-9, 0, 0, 0, 1e-9];
    const right: Position = [0, 0, 0];
    for (const [nx, ny, nz, d] of planes as [number, number, number, number][]) {
      const n: Position = [nx, ny, nz];
      if (Math.abs(dot(n, p) - d) > ON_FACE) continue;
      for (let i = 0; i < 3; i++) {
        right[i] = right[i]! + margin * n[i]!;
        for (let j = 0; j < 3; j++) m[3 * i + j] = m[3 * i + j]! + n[i]! * n[j]!;
      }
    }
    const matrix = [m[0]!, m[3]!, m[6]!, 0, m[1]!, m[4]!, m[7]!, 0, m[2]!, m[5]!, m[8]!, 0, 0, 0, 0, 1];
    const inverse = new Float64Array(16);
    if (!invertAffine(inverse, 0, Float64Array.from(matrix), 0)) return p;
    const way = new Float64Array(3);
    transformPoint(way, 0, inverse, 0, ...right);
    return addScaled(p, [way[0]!, way[1]!, way[2]!], 1);
  });
}

function turnPoints(points: readonly number[], middle: Position, turn: Rotation): number[] {
  return mapPoints(points, (p) => addScaled(middle, rotate(turn, subtract(p, middle)), 1));
}

function resize(points: readonly number[], middle: Position, factor: number): number[] {
  return mapPoints(points, (p) => addScaled(middle, subtract(p, middle), factor));
}

function findMiddle(points: readonly number[]): Position {
  const middle: Position = [0, 0, 0];
  points.forEach((value, i) => {
    middle[i % 3] = middle[i % 3]! + (3 * value) / points.length;
  });
  return middle;
}

/** Distance of the farthest place from the middle, m. */
function measureRadius(points: readonly number[], middle: Position): number {
  let most = 0;
  for (let i = 0; i < points.length; i += 3) {
    most = Math.max(most, distanceBetween([points[i]!, points[i + 1]!, points[i + 2]!], middle));
  }
  return most;
}
