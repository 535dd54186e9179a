import { expect } from 'chai';
import fc from 'fast-check';
import type { CollisionShape } from './collision-shape.ts';
import { computeHullPlanes } from './hull-planes.ts';
import { createPosedCollision, type PosedCollision, packCollision, poseCollision } from './pose-collision.ts';

const STRAIGHT = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

function pose(shapes: readonly CollisionShape[], world: Float64Array = STRAIGHT): PosedCollision {
  const packed = packCollision(shapes);
  const posed = createPosedCollision(packed);
  poseCollision(packed, world, posed);
  return posed;
}

/** How far a place lies outside of a hull, m: the largest distance from its planes. */
function measure({ planes, starts }: PosedCollision, hull: number, position: readonly number[]): number {
  let most = Number.NEGATIVE_INFINITY;
  for (let p = starts[hull]!; p < starts[hull + 1]!; p++) {
    const [nx, ny, nz, d] = planes.subarray(4 * p, 4 * p + 4) as unknown as [number, number, number, number];
    most = Math.max(most, nx * position[0]! + ny * position[1]! + nz * position[2]! - d);
  }
  return most;
}

const BOX: CollisionShape = {
  kind: 'box',
  node: 0,
  centre: [0.1, 0.2, 0],
  rotation: [0, 0, Math.sin(Math.PI / 8), Math.cos(Math.PI / 8)],
  halfSize: [0.3, 0.1, 0.2],
};

describe('boxes, hulls and planes in the world', () => {
  it('are told from round shapes', () => {
    const ball: CollisionShape = {
      kind: 'sphere',
      node: 0,
      a: [0, 1, 0],
      b: [0, 0, 0],
      radiusA: 0.2,
      radiusB: 0.2,
    };
    const posed = pose([ball, BOX, { kind: 'plane', node: 0, point: [0, 0, 0], normal: [0, 1, 0] }]);
    expect(posed.capsules.length).equal(8);
    expect([...posed.starts]).deep.equal([0, 6, 7]);
    expect(posed.sizes[0]).closeTo(0.1, 1e-6);
  });

  it('have the faces of a turned box where they belong, and its corners in its box', () => {
    const posed = pose([BOX]);
    expect(measure(posed, 0, [0.1, 0.2, 0])).closeTo(-0.1, 1e-6);
    const [c, s] = [Math.cos(Math.PI / 4), Math.sin(Math.PI / 4)];
    expect(measure(posed, 0, [0.1 + 0.35 * c, 0.2 + 0.35 * s, 0])).closeTo(0.05, 1e-6);
    expect(measure(posed, 0, [0.1, 0.2, 0.26])).closeTo(0.06, 1e-6);
    expect(posed.boxes[4]).closeTo(0.1 + 0.4 * c, 1e-6);
    expect(posed.boxes[2]).closeTo(-0.2, 1e-6);
  });

  it('follow a scaled, turned and moved joint', () => {
    // Twice as large, a quarter turn about z, 3 up.
    const world = Float64Array.of(0, 2, 0, 0, -2, 0, 0, 0, 0, 0, 2, 0, 0, 3, 0, 1);
    const plane: CollisionShape = { kind: 'plane', node: 0, point: [0.5, 0, 0], normal: [1, 0, 0] };
    const posed = pose([plane, BOX], world);
    expect(measure(posed, 0, [7, 4, -2])).closeTo(0, 1e-6);
    expect(measure(posed, 0, [7, 4.5, -2])).closeTo(0.5, 1e-6);
    expect(measure(posed, 1, [-0.4, 3.2, 0])).closeTo(-0.2, 1e-6);
  });

  it('are put out of the way where the joint is flattened to nothing', () => {
    const flat = Float64Array.of(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 1);
    const posed = pose([BOX], flat);
    expect(posed.planes.every(Number.isFinite)).equal(true);
    expect(measure(posed, 0, [1, 2, 3])).above(1000);
  });

  it('enclose points of a hull that nearly coincide', () => {
    const points = Float32Array.from({ length: 36 }, (_, i) => {
      const p = Math.floor(i / 3);
      return [p % 2, p % 3, p % 5][i % 3]! - (p === 8 && i % 3 === 1 ? 5.96e-8 : 0);
    });
    for (const [nx, ny, nz, d] of computeHullPlanes(points)) {
      for (let i = 0; i < points.length; i += 3) {
        expect(nx! * points[i]! + ny! * points[i + 1]! + nz! * points[i + 2]!).at.most(d! + 1e-6);
      }
    }
  });

  it('enclose the points of a hull, and touch some of them', () => {
    const coordinate = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate, coordinate), { minLength: 12, maxLength: 30 }),
        (list) => {
          // Spread out, so that there is a volume.
          const points = Float32Array.from(
            list.flatMap(([x, y, z], i) => [x + (i % 2), y + (i % 3), z + (i % 5)]),
          );
          const planes = computeHullPlanes(points);
          expect(planes.length).at.least(4);
          for (const [nx, ny, nz, d] of planes) {
            expect(Math.hypot(nx!, ny!, nz!)).closeTo(1, 1e-5);
            let most = Number.NEGATIVE_INFINITY;
            for (let i = 0; i < points.length; i += 3) {
              most = Math.max(most, nx! * points[i]! + ny! * points[i + 1]! + nz! * points[i + 2]! - d!);
            }
            expect(most).closeTo(0, 1e-4);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});
