import { expect } from 'chai';
import {
  composeMatrix,
  createRandom,
  type MutableVector3,
  rotationFromAngles,
  transformPoint,
} from '../math/index.ts';
import { BodyDistances } from './body-distances.ts';
import { type BodyShape, getRoundShape, isRoundBody, meetShape } from './body-shape.ts';
import { listHullTriangles } from './hull-planes.ts';
import { listBoxCorners } from './list-box-corners.ts';

/** Scale of the joint that the bodies are on. */
const SCALE = 1.7;

/** Two joints, the second moved, turned and larger. */
function createMatrices(): Float64Array {
  const matrices = new Float64Array(32);
  matrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
  composeMatrix(
    matrices,
    16,
    [0.4, -0.2, 0.9],
    0,
    rotationFromAngles([0.7, -1.1, 0.4]),
    0,
    [SCALE, SCALE, SCALE],
    0,
  );
  return matrices;
}

const HULL = [0, 0, 0, 0.14, 0.01, 0, 0.02, 0.11, 0.01, 0.01, 0.02, 0.12, 0.1, 0.09, 0.08, -0.05, 0.03, 0.04];

const SHAPES: readonly BodyShape[] = [
  { kind: 'sphere', a: [0.02, 0, 0.05], b: [0.02, 0, 0.05], radiusA: 0.07, radiusB: 0.07 },
  { kind: 'capsule', a: [0, 0, 0], b: [0.02, -0.3, 0.05], radiusA: 0.05, radiusB: 0.05 },
  { kind: 'taperedCapsule', a: [0, 0.1, 0], b: [0.1, -0.2, 0.05], radiusA: 0.09, radiusB: 0.04 },
  {
    kind: 'box',
    centre: [0.01, 0.02, 0],
    rotation: rotationFromAngles([0.2, 0.5, -0.3]),
    halfSize: [0.04, 0.1, 0.06],
  },
  { kind: 'hull', points: HULL },
];

/** Distance from places all over a surface in the world; negative inside, which another formula says. */
function measureByHand(shape: BodyShape, matrices: Float64Array, place: MutableVector3): number {
  if (isRoundBody(shape)) {
    const { a, b, radiusA, radiusB } = getRoundShape(shape);
    let least = Number.POSITIVE_INFINITY;
    const ball = new Float64Array(3);
    for (let i = 0; i <= 4000; i++) {
      const t = i / 4000;
      const [x, y, z] = a.map((value, k) => value + t * (b[k]! - value)) as MutableVector3;
      transformPoint(ball, 0, matrices, 16, x, y, z);
      const distance = Math.hypot(place[0] - ball[0]!, place[1] - ball[1]!, place[2] - ball[2]!);
      least = Math.min(least, distance - SCALE * (radiusA + t * (radiusB - radiusA)));
    }
    return least;
  }
  const corners = shape.kind === 'box' ? listBoxCorners(shape) : Float32Array.from(HULL);
  const triangles = listHullTriangles(corners);
  const world = new Float64Array(corners.length);
  for (let i = 0; i < corners.length; i += 3)
    transformPoint(world, i, matrices, 16, corners[i]!, corners[i + 1]!, corners[i + 2]!);
  const middle = [0, 1, 2].map(
    (k) => world.filter((_, i) => i % 3 === k).reduce((s, v) => s + v, 0) / (corners.length / 3),
  );
  let least = Number.POSITIVE_INFINITY;
  let isInside = true;
  const steps = 160;
  for (let t = 0; t < triangles.length; t += 3) {
    const [p, q, r] = [0, 1, 2].map((k) => world.slice(3 * triangles[t + k]!, 3 * triangles[t + k]! + 3)) as [
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    // The same side of each face as the middle.
    const [u, w, m, s] = [q, r, middle, place].map((to) => [0, 1, 2].map((k) => to[k]! - p[k]!)) as [
      number[],
      number[],
      number[],
      number[],
    ];
    const n = [u[1]! * w[2]! - u[2]! * w[1]!, u[2]! * w[0]! - u[0]! * w[2]!, u[0]! * w[1]! - u[1]! * w[0]!];
    const side = (v: number[]): number => v.reduce((sum, value, k) => sum + value * n[k]!, 0);
    if (side(m) * side(s) < 0) isInside = false;
    for (let i = 0; i <= steps; i++) {
      for (let j = 0; i + j <= steps; j++) {
        const [b, c] = [i / steps, j / steps];
        const d = [0, 1, 2].map((k) => p[k]! + b * u[k]! + c * w[k]! - place[k]!);
        least = Math.min(least, Math.hypot(d[0]!, d[1]!, d[2]!));
      }
    }
  }
  return isInside ? -least : least;
}

describe('distances from bodies', () => {
  const matrices = createMatrices();
  const random = createRandom(7);
  for (const shape of SHAPES) {
    it(`are those to the surface of a ${shape.kind}, beside corners too, on a joint that is turned and larger`, () => {
      const distances = new BodyDistances([meetShape(SHAPES[1]!, 0), meetShape(shape, 1)]);
      distances.pose(matrices);
      let inside = 0;
      for (let i = 0; i < 40; i++) {
        const place = new Float64Array(3);
        const local = [0, 1, 2].map(() => 0.3 * (random() - 0.5)) as MutableVector3;
        transformPoint(place, 0, matrices, 16, ...local);
        const [x, y, z] = [...place] as MutableVector3;
        const wanted = measureByHand(shape, matrices, [x, y, z]);
        if (wanted < 0) inside++;
        expect(distances.measure(1, x, y, z)).closeTo(wanted, 6e-4);
        // What is too far from the box is told to be farther than that.
        if (wanted > 0.05) expect(distances.measure(1, x, y, z, 0.05)).above(0.05);
      }
      expect(inside).above(0);
    });
  }

  it('grow by a margin, in the joint\u2019s own lengths, as solvers see it at faces', () => {
    const box = SHAPES[3]!;
    const [bare, grown] = [0, 0.01].map((margin) => {
      const distances = new BodyDistances([meetShape(box, 1, margin)]);
      distances.pose(matrices);
      return distances;
    });
    for (let i = 0; i < 30; i++) {
      const place = new Float64Array(3);
      transformPoint(
        place,
        0,
        matrices,
        16,
        ...([0, 1, 2].map(() => 0.4 * (random() - 0.5)) as MutableVector3),
      );
      const [x, y, z] = [...place] as MutableVector3;
      expect(grown!.measure(0, x, y, z)).closeTo(bare!.measure(0, x, y, z) - 0.01 * SCALE, 1e-6);
      expect(grown!.measureMet(0, x, y, z)).at.most(grown!.measure(0, x, y, z) + 1e-6);
    }
  });

  it('are signed heights over a plane', () => {
    const distances = new BodyDistances([
      meetShape({ kind: 'plane', point: [0, 0.1, 0], normal: [0, 1, 0] }, 1),
    ]);
    distances.pose(matrices);
    const place = new Float64Array(3);
    transformPoint(place, 0, matrices, 16, 3, 0.25, -2);
    expect(distances.measure(0, ...([...place] as MutableVector3))).closeTo(0.15 * SCALE, 1e-6);
    expect([...distances.normal].reduce((sum, value) => sum + value ** 2, 0)).closeTo(1, 1e-6);
  });
});
