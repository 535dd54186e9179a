import { expect } from 'chai';
import fc from 'fast-check';
import { BEND_FILTER_MEAN, BEND_FILTERS } from './bend-filter.ts';
import { computeHingeWeights, measureHinge } from './compile/hinges.ts';
import { compileGarment } from './compiled-garment.ts';
import { createTestCharacter } from './test-cloth.ts';
import { FRAME, hang, positionOf, run, SOLVER_NAMES } from './test-hang.ts';

type Position = [number, number, number];

interface HingeShape {
  length: number;
  heights: readonly [number, number];
  feet: readonly [number, number];
  /** Angle of the second triangle out of the plane of the first, rad. */
  fold: number;
  turn: readonly [number, number, number];
}

function rotate(p: Position, [a, b, c]: readonly [number, number, number]): Position {
  const y1 = p[1] * Math.cos(a) - p[2] * Math.sin(a);
  const z1 = p[1] * Math.sin(a) + p[2] * Math.cos(a);
  const x2 = p[0] * Math.cos(b) + z1 * Math.sin(b);
  const z2 = -p[0] * Math.sin(b) + z1 * Math.cos(b);
  return [x2 * Math.cos(c) - y1 * Math.sin(c), x2 * Math.sin(c) + y1 * Math.cos(c), z2];
}

/**
 * ```
 *      c      a = 0, b = 1 on the edge, c = 2 above, d = 3 below and folded; all turned obliquely
 *     ╱ ╲
 *    a───b
 *     ╲ ╱
 *      d
 * ```
 */
function placeHinge({ length, heights, feet, fold, turn }: HingeShape): Position[] {
  const corners: Position[] = [
    [0, 0, 0],
    [length, 0, 0],
    [feet[0] * length, 0, heights[0]],
    [feet[1] * length, -heights[1] * Math.sin(fold), -heights[1] * Math.cos(fold)],
  ];
  return corners.map((p) => rotate(p, turn));
}

function toRows(corners: readonly Position[]): Float32Array {
  return Float32Array.from(corners.flatMap((p) => [...p, 0]));
}

const angle = fc.double({ min: -1.2, max: 1.2, noNaN: true });
const size = fc.double({ min: 0.3, max: 1, noNaN: true });
const hinge = fc.record({
  length: size,
  heights: fc.tuple(size, size),
  feet: fc.tuple(size, size),
  fold: angle,
  turn: fc.tuple(angle, angle, angle),
});

describe('hinges', () => {
  it('measure edge length times fold angle for small folds, whatever their shape and place', () => {
    fc.assert(
      fc.property(hinge, (shape) => {
        const fold = 0.02 * shape.fold;
        const weights = computeHingeWeights(toRows(placeHinge({ ...shape, fold: 0 })), 0, 1, 2, 3);
        const bent = toRows(placeHinge({ ...shape, fold }));
        expect(measureHinge(bent, [0, 1, 2, 3], weights)).closeTo(-shape.length * fold, 3e-4);
      }),
      { numRuns: 300 },
    );
  });

  it('have weights that feel neither a shift nor a turn of the whole', () => {
    fc.assert(
      fc.property(hinge, (shape) => {
        const flat = placeHinge({ ...shape, fold: 0 });
        const weights = computeHingeWeights(toRows(flat), 0, 1, 2, 3);
        expect(weights.reduce((sum, weight) => sum + weight, 0)).closeTo(0, 1e-3);
        for (let k = 0; k < 3; k++) {
          expect(weights.reduce((sum, weight, i) => sum + weight * flat[i]![k]!, 0)).closeTo(0, 1e-4);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('are found where two triangles with an area meet, and nowhere else', () => {
    const corners = placeHinge({
      length: 0.5,
      heights: [0.4, 0.6],
      feet: [0.3, 0.7],
      fold: 0.8,
      turn: [0, 0, 0],
    });
    const compile = (triangles: number[]): number =>
      compileGarment(createTestCharacter(Float32Array.from(corners.flat()), Uint32Array.from(triangles)), 0)
        .bend.hinges.rest.length;
    expect(compile([0, 1, 2, 1, 0, 3])).equal(1);
    expect(compile([0, 1, 2])).equal(0);
    expect(compile([0, 1, 2, 0, 1, 1])).equal(0);
  });
});

for (const name of SOLVER_NAMES) {
  describe(`the ${name} solver's folds`, () => {
    const folded = placeHinge({
      length: 0.1,
      heights: [0.1, 0.1],
      feet: [0.5, 0.5],
      fold: 0.9,
      turn: [0.3, -0.9, 0.5],
    });
    const flag = {
      positions: Float32Array.from(folded.flat()),
      triangles: Uint32Array.of(0, 1, 2, 1, 0, 3),
    };
    const weights = computeHingeWeights(toRows(folded), 0, 1, 2, 3);
    const measure = (solver: ReturnType<typeof hang>): number =>
      measureHinge(toRows([0, 1, 2, 3].map((i) => positionOf(solver, i))), [0, 1, 2, 3], weights);
    const modelled = measureHinge(toRows(folded), [0, 1, 2, 3], weights);
    // Held by the edge and one wing; the other is free.
    const isHeld = (fold: Partial<Parameters<typeof hang>[2]>): ReturnType<typeof hang> =>
      hang(
        name,
        flag,
        { bendStiffness: 1e-3, gravityScale: 0, damping: 4, substepsPerSecond: 480, ...fold },
        (x, y, z) => (Math.hypot(x - folded[3]![0], y - folded[3]![1], z - folded[3]![2]) < 1e-6 ? 1e6 : 0),
      );

    it('stay as modelled with full memory, and open with less', () => {
      const remembered = isHeld({ foldMemory: 1 });
      run(remembered, 2);
      expect(measure(remembered)).closeTo(modelled, 1e-4);
      const forgotten = isHeld({ foldMemory: 0 });
      run(forgotten, 4);
      expect(Math.abs(measure(forgotten))).below(0.15 * Math.abs(modelled));
    });

    it('keep a new shape when bent beyond their yield angle, and only then', () => {
      const left = (plasticYieldAngle: number): number => {
        const solver = isHeld({ plasticYieldAngle });
        const o = 4 * solver.garment.pointOfVertex[3]!;
        // A hand folds the wing flat for a moment.
        const flat = placeHinge({
          length: 0.1,
          heights: [0.1, 0.1],
          feet: [0.5, 0.5],
          fold: 0,
          turn: [0.3, -0.9, 0.5],
        });
        solver.setPull({ points: [{ point: o / 4, position: flat[3]!, strength: 1 }] });
        run(solver, 20 * FRAME);
        solver.setPull(null);
        run(solver, 3);
        return measure(solver) / modelled;
      };
      expect(left(Math.PI)).closeTo(1, 0.02);
      expect(left(0.3)).within(0.2, 0.5);
    });
  });
}

describe('the filter of stiff bending', () => {
  it('is exact for slow modes, lets none grow, and reaches further with more steps', () => {
    let before = 0;
    for (const { steps, bound, coefficients } of BEND_FILTERS) {
      const answer = (z: number): number => {
        if (steps === 1) return 1 - z;
        let [last, now] = [1, 1 - coefficients[1]! * z];
        for (let k = 1; k < steps; k++) {
          const mu = coefficients[2 * k]!;
          [last, now] = [now, mu * now + (1 - mu) * last - coefficients[2 * k + 1]! * z * now];
        }
        return BEND_FILTER_MEAN + (1 - BEND_FILTER_MEAN) * now;
      };
      expect((1 - answer(1e-3)) / 1e-3).closeTo(1, 0.01);
      for (let i = 0; i <= 400; i++) expect(answer((bound * i) / 400)).within(-0.12, 1 + 1e-5);
      expect(bound).above(before);
      before = bound;
    }
    expect(before).above(200);
  });
});
