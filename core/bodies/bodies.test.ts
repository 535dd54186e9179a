import { expect } from 'chai';
import fc from 'fast-check';
import { createRandom } from '../math/index.ts';
import { packBodies } from './body-shape.ts';
import { fitTaperedCapsule } from './fit-tapered-capsule.ts';
import { poseCapsules } from './pose-capsules.ts';
import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

type Position = [number, number, number];

/** By definition: the union of all spheres from end to end. */
function measureBySpheres(a: Position, ra: number, b: Position, rb: number, p: Position): number {
  const at = (t: number): number =>
    Math.hypot(...p.map((v, k) => v - a[k]! - t * (b[k]! - a[k]!))) - ra - t * (rb - ra);
  let [low, high] = [0, 1];
  // The distance is convex in t: a search by thirds finds its minimum.
  for (let i = 0; i < 100; i++) {
    const [p1, p2] = [low + (high - low) / 3, high - (high - low) / 3];
    if (at(p1) < at(p2)) high = p2;
    else low = p1;
  }
  return at((low + high) / 2);
}

const coordinate = fc.double({ min: -1, max: 1, noNaN: true });
const position = fc.tuple(coordinate, coordinate, coordinate);
const radius = fc.double({ min: 0.05, max: 0.5, noNaN: true });

describe('distance to a tapered capsule', () => {
  it('is the least distance to the spheres along it, and its gradient is the normal (random shapes)', () => {
    fc.assert(
      fc.property(position, radius, position, radius, position, (a, ra, b, rb, p) => {
        const { rows } = packBodies([{ kind: 'taperedCapsule', node: 0, a, b, radiusA: ra, radiusB: rb }]);
        const hit = createCapsuleHit();
        measureTaperedCapsule(rows, 0, ...p, hit);
        const expected = measureBySpheres(a, ra, b, rb, p);
        expect(hit.distance).closeTo(expected, 2e-5);
        fc.pre(Math.abs(hit.distance) < 0.5 && measureBySpheres(a, 0, b, 0, p) > 0.02);
        const step = 1e-4;
        const ahead = p.map((v, k) => v + step * [hit.nx, hit.ny, hit.nz][k]!) as Position;
        expect((measureBySpheres(a, ra, b, rb, ahead) - expected) / step).closeTo(1, 2e-2);
      }),
      { numRuns: 500 },
    );
  });

  it('takes spheres and capsules as special cases, and the larger end where it swallows the smaller', () => {
    const hit = createCapsuleHit();
    const measure = (kind: 'sphere' | 'capsule' | 'taperedCapsule', radiusB: number): number => {
      const { rows } = packBodies([{ kind, node: 0, a: [0, 0, 0], b: [0, 1, 0], radiusA: 0.5, radiusB }]);
      measureTaperedCapsule(rows, 0, 0, 2, 0, hit);
      return hit.distance;
    };
    expect(measure('sphere', 9)).closeTo(1.5, 1e-6);
    expect(measure('capsule', 9)).closeTo(0.5, 1e-6);
    expect(measure('taperedCapsule', 0.25)).closeTo(0.75, 1e-6);
    expect(measure('taperedCapsule', 1.6)).closeTo(-0.6, 1e-6);
  });

  it('gives a normal at right angles to the axis for a point on it', () => {
    const hit = createCapsuleHit();
    const { rows } = packBodies([
      { kind: 'capsule', node: 0, a: [0, 0, 0], b: [1, 1, 0], radiusA: 0.2, radiusB: 0.2 },
    ]);
    measureTaperedCapsule(rows, 0, 0.5, 0.5, 0, hit);
    expect(hit.nx + hit.ny).closeTo(0, 1e-6);
    expect(Math.hypot(hit.nx, hit.ny, hit.nz)).closeTo(1, 1e-6);
  });

  it('follows a scaled, turned joint', () => {
    const { rows, nodes } = packBodies([
      { kind: 'capsule', node: 1, a: [1, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 },
    ]);
    // A quarter turn about Z, twice as large, moved.
    const world = new Float64Array(32);
    world.set([0, 2, 0, 0, -2, 0, 0, 0, 0, 0, 2, 0, 5, 6, 7, 1], 16);
    const posed = poseCapsules(rows, nodes, world, new Float32Array(8));
    [5, 8, 7, 0.2, 5, 6, 7, 0.2].forEach((expected, i) => {
      expect(posed[i]).closeTo(expected, 1e-6);
    });
  });
});

describe('fitting bodies to skin', () => {
  /** Skin of a known tapered capsule along an oblique bone, with noise, and some points of a neighbouring limb. */
  function createLimb(strays: number): {
    points: Float32Array;
    from: Position;
    to: Position;
    direction: Position;
  } {
    const random = createRandom(7);
    const from: Position = [0.1, 1, 0.05];
    const direction: Position = [0.36, -0.8, 0.48];
    const side: Position = [0.8, 0.6, 0];
    const other: Position = [0.48 * 0.6, -0.48 * 0.8, -1].map((v, k) => -v + 0 * k) as Position;
    const length = Math.hypot(...other);
    const points: number[] = [];
    for (let i = 0; i < 400; i++) {
      const t = 0.4 * random();
      const angle = 2 * Math.PI * random();
      const r = 0.09 - 0.1 * t + 0.002 * (random() - 0.5);
      for (let k = 0; k < 3; k++) {
        points.push(
          from[k]! +
            t * direction[k]! +
            r * (Math.cos(angle) * side[k]! + (Math.sin(angle) * other[k]!) / length),
        );
      }
    }
    for (let i = 0; i < strays; i++)
      points.push(from[0] + 0.3 + 0.05 * random(), from[1] - 0.3 * random(), from[2]);
    return {
      points: Float32Array.from(points),
      from,
      to: from.map((v, k) => v + 0.4 * direction[k]!) as Position,
      direction,
    };
  }

  it('recovers radii and axis of a limb within two millimetres', () => {
    const { points, from, to } = createLimb(0);
    const fit = fitTaperedCapsule(points, from, to, { margin: 0 })!;
    const radiusAt = (t: number): number => {
      // Radius of the fit where the true axis has gone t metres.
      const hit = createCapsuleHit();
      const row = Float32Array.from([...fit.a, fit.radiusA, ...fit.b, fit.radiusB]);
      const p = from.map((v, k) => v + (t / 0.4) * (to[k]! - v)) as Position;
      measureTaperedCapsule(row, 0, ...p, hit);
      return -hit.distance;
    };
    for (const t of [0.08, 0.2, 0.32]) expect(radiusAt(t)).closeTo((0.09 - 0.1 * t) * 0.995, 0.003);
    expect(fit.coverage).above(0.98);
    expect(fit.overhang).below(0.01);
  });

  it('is not swollen by points of a neighbour', () => {
    const clean = createLimb(0);
    const mixed = createLimb(40);
    const radius = ({ points, from, to }: ReturnType<typeof createLimb>): number =>
      fitTaperedCapsule(points, from, to, { margin: 0 })!.radiusA;
    expect(radius(mixed)).closeTo(radius(clean), 0.012);
  });

  it('lies across a trunk that is wider than its bone is long', () => {
    const random = createRandom(3);
    const points: number[] = [];
    for (let i = 0; i < 500; i++) {
      const angle = 2 * Math.PI * random();
      points.push(0.18 * Math.cos(angle), 1 + 0.1 * random(), 0.11 * Math.sin(angle));
    }
    const fit = fitTaperedCapsule(Float32Array.from(points), [0, 1, 0], [0, 1.1, 0], { margin: 0 })!;
    expect(Math.abs(fit.b[0] - fit.a[0])).above(0.06);
    expect(fit.radiusA).within(0.1, 0.15);
  });

  it('declines without points or bone', () => {
    expect(fitTaperedCapsule(new Float32Array(9), [0, 0, 0], [0, 1, 0])).equal(null);
    expect(fitTaperedCapsule(new Float32Array(90), [0, 0, 0], [0, 0, 0])).equal(null);
  });
});
