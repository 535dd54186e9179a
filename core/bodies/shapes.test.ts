import { expect } from 'chai';
import fc from 'fast-check';
import {
  addScaled,
  anglesOfRotation,
  composeMatrix,
  distanceBetween,
  IDENTITY_MATRIX,
  type MutableVector3,
  multiplyRotations,
  normaliseRotation,
  rotate,
  rotationFromAngles,
} from '../math/index.ts';
import {
  type BodyShape,
  createShapeField,
  getShapeDefinition,
  growShape,
  meetShape,
  SHAPE_KINDS,
  SHAPES,
  scaleShape,
} from './body-shape.ts';
import { convertShape, fitShape } from './convert-shape.ts';
import { listHullTriangles } from './hull-planes.ts';
import { createPosedCollision, packCollision, poseCollision } from './pose-collision.ts';
import { reduceHull } from './reduce-hull.ts';
import { createShapeMap } from './shapes/shape-map.ts';
import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

const coordinate = fc.double({ min: -1, max: 1, noNaN: true });
const position = fc.tuple(coordinate, coordinate, coordinate);
const size = fc.double({ min: 0.05, max: 0.4, noNaN: true });
const turn = fc
  .tuple(coordinate, coordinate, coordinate, coordinate)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => normaliseRotation(q));

const shapes: fc.Arbitrary<BodyShape> = fc.oneof(
  fc.record({
    kind: fc.constantFrom('sphere' as const, 'capsule' as const, 'taperedCapsule' as const),
    a: position,
    b: position,
    radiusA: size,
    radiusB: size,
  }),
  fc.record({
    kind: fc.constant('box' as const),
    centre: position,
    rotation: turn,
    halfSize: fc.tuple(size, size, size),
  }),
  fc.record({
    kind: fc.constant('plane' as const),
    point: position,
    normal: turn.map((q) => rotate(q, [0, 1, 0])),
  }),
  fc.record({
    kind: fc.constant('hull' as const),
    points: fc.tuple(position, turn, size).map(([at, q, s]) => wedge(at, q, s)),
  }),
);

function wedge(at: MutableVector3, q: [number, number, number, number], s: number): number[] {
  const corners: MutableVector3[] = [
    [-1, 0, -1],
    [1, 0, -1],
    [1, 0, 1],
    [-1, 0, 1],
    [-1, 1, 0],
    [1, 1, 0],
  ];
  return corners.flatMap((corner) => addScaled(at, rotate(q, corner), s));
}

/** Signed distance of a place from a shape, as cloth meets it. */
function measure(shape: BodyShape, place: MutableVector3, margin = 0): number {
  const packed = packCollision([meetShape(shape, 0, margin)]);
  const posed = createPosedCollision(packed);
  poseCollision(packed, Float64Array.from(IDENTITY_MATRIX), posed);
  if (posed.capsules.length > 0) {
    const hit = createCapsuleHit();
    measureTaperedCapsule(posed.capsules, 0, ...place, hit);
    return hit.distance;
  }
  let distance = Number.NEGATIVE_INFINITY;
  for (let p = 0; p < posed.planes.length; p += 4) {
    const [nx, ny, nz, d] = posed.planes.subarray(p, p + 4);
    distance = Math.max(distance, nx! * place[0] + ny! * place[1] + nz! * place[2] - d!);
  }
  return distance;
}

describe('shapes of bodies', () => {
  it('have samples on the surface that cloth meets, and a valid record (random shapes)', () => {
    const field = createShapeField();
    fc.assert(
      fc.property(shapes, (shape) => {
        expect(field.isValidSync(shape, { strict: true })).equal(true);
        const places = getShapeDefinition(shape).sample(shape);
        // A ball within the other: the tapered capsule is one ball then, and rings of it are not there.
        fc.pre(
          !('a' in shape) || Math.abs(shape.radiusA - shape.radiusB) < distanceBetween(shape.a, shape.b),
        );
        for (let i = 0; i < places.length; i += 3) {
          expect(measure(shape, [places[i]!, places[i + 1]!, places[i + 2]!])).closeTo(0, 2e-5);
        }
      }),
      { numRuns: 150 },
    );
  });

  it('are carried with every place around them, mirrored and scaled too (random similarities)', () => {
    fc.assert(
      fc.property(
        shapes,
        turn,
        position,
        size,
        fc.boolean(),
        position,
        (shape, q, at, scale, isMirrored, place) => {
          const matrix = new Float64Array(16);
          const s = 3 * scale;
          composeMatrix(matrix, 0, at, 0, q, 0, [isMirrored ? -s : s, s, s], 0);
          const map = createShapeMap(matrix);
          const before = measure(shape, place);
          const after = measure(getShapeDefinition(shape).carry(shape, map), map.position(place));
          expect(after).closeTo(s * before, 1e-4);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('grow by a margin as cloth meets it, whether it is added or built in', () => {
    fc.assert(
      fc.property(shapes, position, fc.double({ min: 0, max: 0.03, noNaN: true }), (shape, place, margin) => {
        expect(measure(growShape(shape, margin), place)).closeTo(measure(shape, place, margin), 1e-4);
      }),
      { numRuns: 150 },
    );
  });

  it('go along with a handle: it comes to where it is drawn, when that is possible', () => {
    fc.assert(
      fc.property(shapes, position, (shape, to) => {
        const definition = getShapeDefinition(shape);
        for (const { id, does, position: from } of definition.listHandles(shape)) {
          const moved = definition.moveHandle(shape, id, to);
          const after = definition.listHandles(moved).find((handle) => handle.id === id)!.position;
          if (does === 'move') expect(distanceBetween(after, to)).below(1e-6);
          // Drawn to where it is, nothing changes but what is rounded.
          const same = definition.moveHandle(shape, id, from);
          expect(measure(same, to)).closeTo(measure(shape, to), 1e-5);
        }
      }),
      { numRuns: 100 },
    );
  });

  it('turn a box so that its knob looks where it is drawn', () => {
    const box: BodyShape = {
      kind: 'box',
      centre: [1, 0, 0],
      rotation: [0, 0, 0, 1],
      halfSize: [0.1, 0.2, 0.3],
    };
    const turned = SHAPES.box.moveHandle(box, 'turnY', [1, 0, 5]);
    expect(distanceBetween(rotate(turned.rotation, [0, 1, 0]), [0, 0, 1])).below(1e-9);
    const sized = SHAPES.box.moveHandle(box, 'sizeX', [1.3, 7, 7]);
    // The face behind stays at 0.9.
    expect(sized.centre[0] - sized.halfSize[0]).closeTo(0.9, 1e-9);
    expect(sized.centre[0] + sized.halfSize[0]).closeTo(1.3, 1e-9);
  });

  it('take each number that is typed, angles too, and only that', () => {
    fc.assert(
      fc.property(shapes, size, (shape, typed) => {
        const definition = getShapeDefinition(shape);
        const before = definition.listNumbers(shape);
        // Straight up or down two angles are one, and a plane that looks up has no heading.
        const steepest = shape.kind === 'box' ? anglesOfRotation(shape.rotation)[1] : 0;
        fc.pre(Math.abs(steepest) < 1.5 && (shape.kind !== 'plane' || Math.abs(shape.normal[1]) < 0.99));
        before.forEach((number, i) => {
          const after = definition.listNumbers(number.change(typed));
          expect(after[i]!.value).closeTo(typed, 1e-6);
          after.forEach((other, k) => {
            if (k !== i)
              expect(other.value, `${other.label} by ${number.label}`).closeTo(before[k]!.value, 1e-5);
          });
        });
      }),
      { numRuns: 150 },
    );
  });

  it('become a valid shape of every kind, whatever they are (random shapes)', () => {
    const field = createShapeField();
    fc.assert(
      fc.property(shapes, fc.constantFrom(...SHAPE_KINDS), (shape, kind) => {
        const converted = convertShape(shape, kind);
        expect(converted.kind).equal(kind);
        expect(field.isValidSync(converted, { strict: true }), JSON.stringify(converted)).equal(true);
      }),
      { numRuns: 60 },
    );
  });

  it('become shapes of every other kind that lie on them', () => {
    const capsule: BodyShape = {
      kind: 'capsule',
      a: [0, 0, 0],
      b: [0.1, 0.4, 0.2],
      radiusA: 0.08,
      radiusB: 0.08,
    };
    for (const kind of SHAPE_KINDS) {
      const converted = convertShape(capsule, kind);
      expect(converted.kind).equal(kind);
      if (kind === 'plane' || kind === 'sphere') continue;
      // Off its surface by no more than a corner of a box is off a limb.
      const places = getShapeDefinition(capsule).sample(capsule);
      for (let i = 0; i < places.length; i += 3) {
        const distance = measure(converted, [places[i]!, places[i + 1]!, places[i + 2]!]);
        expect(distance, kind).within(-0.05, kind === 'hull' ? 0.02 : 1e-3);
      }
    }
    const back = convertShape(convertShape(capsule, 'hull'), 'capsule');
    expect(back.kind === 'capsule' && back.radiusA).closeTo(0.08, 0.006);
  });

  it('of a sphere are found again from places on it, half of it too', () => {
    const ball: BodyShape = { kind: 'sphere', a: [0.3, -0.2, 1], b: [0, 0, 0], radiusA: 0.25, radiusB: 0.25 };
    const places = SHAPES.sphere.sample(ball);
    const fitted = fitShape(places, 'sphere');
    expect(fitted.kind === 'sphere' && distanceBetween(fitted.a, ball.a)).below(1e-3);
    expect(fitted.kind === 'sphere' && fitted.radiusA).closeTo(0.25, 1e-3);
  });

  it('scale all their lengths', () => {
    const scaled = scaleShape(
      { kind: 'box', centre: [1, 2, 3], rotation: [0, 0, 0, 1], halfSize: [1, 1, 2] },
      0.01,
    );
    expect(scaled).deep.equal({
      kind: 'box',
      centre: [0.01, 0.02, 0.03],
      rotation: [0, 0, 0, 1],
      halfSize: [0.01, 0.01, 0.02],
    });
  });

  it('that are none are refused, with the reason', () => {
    const field = createShapeField();
    const refuse = (shape: object): string => {
      try {
        field.validateSync(shape, { strict: true });
        return 'taken';
      } catch (error) {
        return (error as Error).message;
      }
    };
    const flat = [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0];
    expect(refuse({ kind: 'hull', points: flat })).match(/enclose a space/);
    expect(refuse({ kind: 'torus' })).match(/"torus" is not a shape/);
    expect(refuse({ kind: 'plane', point: [0, 0, 0], normal: [0, 2, 0] })).match(/length 1/);
    expect(refuse({ kind: 'box', centre: [0, 0, 0], rotation: [0, 0, 0, 2], halfSize: [1, 1, 1] })).match(
      /length 1/,
    );
    expect(refuse({ kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1, node: 3 })).match(
      /node/,
    );
  });
});

describe('hulls of few vertices', () => {
  it('lie within the points, near them all, and turn outward', () => {
    const ball = getShapeDefinition({
      kind: 'sphere',
      a: [0, 0, 0],
      b: [0, 0, 0],
      radiusA: 1,
      radiusB: 1,
    } as BodyShape).sample({ kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 1, radiusB: 1 });
    let before = Number.POSITIVE_INFINITY;
    for (const most of [8, 16, 32]) {
      const points = reduceHull(ball, most);
      expect(points.length / 3).equal(most);
      const farthest = Math.max(
        ...Array.from({ length: ball.length / 3 }, (_, i) =>
          measure({ kind: 'hull', points }, [ball[3 * i]!, ball[3 * i + 1]!, ball[3 * i + 2]!]),
        ),
      );
      expect(farthest).below(before);
      before = farthest;
      const triangles = listHullTriangles(Float32Array.from(points));
      // A closed surface of triangles: 2 v - 4 of them (Euler).
      expect(triangles.length / 3).equal(2 * most - 4);
    }
    // A ball of 32 vertices, were they spread at their best, would have its faces 0.08 off.
    expect(before).below(0.16);
  });

  it('of points in one plane are refused', () => {
    expect(() => reduceHull(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 2, 1, 0), 8)).throw(
      RangeError,
      'no volume',
    );
  });
});

describe('turns as angles', () => {
  it('come back from their angles (random turns, straight up and down too)', () => {
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        fc.oneof(
          turn,
          angle.map((a) =>
            multiplyRotations([0, Math.SQRT1_2, 0, Math.SQRT1_2], rotationFromAngles([a, 0, 0])),
          ),
        ),
        (q) => {
          const again = rotationFromAngles(anglesOfRotation(q));
          for (const axis of [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ] as const) {
            expect(distanceBetween(rotate(again, axis), rotate(q, axis))).below(2e-3);
          }
        },
      ),
    );
  });
});
