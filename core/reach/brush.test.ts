import { expect } from 'chai';
import fc from 'fast-check';
import { createSheet } from '../cloth/test-cloth.ts';
import { buildEdgeTable, buildNeighbours, computeVertexNormals, SurfaceFront } from '../mesh/index.ts';
import { BRUSH_MODES, type BrushMode, type BrushSurface, computeDab, type Dab } from './brush.ts';
import { computeFalloff, FALLOFFS } from './falloff.ts';
import { compareValues, mergeChanges, type SparseChange } from './sparse-change.ts';
import { joinTouched, touchPoints } from './touch-points.ts';

type TestSurface = BrushSurface & { count: number };

function createSurface(
  position: (u: number, v: number) => [number, number, number] = (u, v) => [u, -v, 0],
): TestSurface {
  return toSurface(createSheet(10, 10, position));
}

/** 11 × 11 points a tenth apart in the plane z = 0, facing +Z, unless placed elsewhere. */
function toSurface({
  positions,
  triangles,
}: {
  positions: Float32Array;
  triangles: Uint32Array;
}): TestSurface {
  const count = positions.length / 3;
  return {
    positions,
    stride: 3,
    normals: computeVertexNormals(positions, triangles, new Float32Array(positions.length)),
    neighbours: buildNeighbours(buildEdgeTable(triangles, count), count),
    front: new SurfaceFront(triangles, count),
    count,
  };
}

const DAB: Dab = {
  center: [0.5, -0.5, 0],
  radius: 0.25,
  strength: 0.5,
  falloff: 'linear',
  mode: 'value',
  value: 0.4,
};
const MIDDLE = 5 * 11 + 5;

function apply(values: Float32Array, change: SparseChange): Float32Array {
  const out = values.slice();
  change.indices.forEach((index, k) => {
    out[index] = change.after[k]!;
  });
  return out;
}

/** What a merged change must say: every element that was ever touched, as it was and as it is. */
function compareMerged(merged: SparseChange, start: Float32Array, end: Float32Array): SparseChange {
  const whole = compareValues(start, end);
  for (const index of whole.indices) expect([...merged.indices]).include(index);
  return {
    indices: Uint32Array.from(new Set([...merged.indices])).sort(),
    before: Float32Array.from(merged.indices, (index) => start[index]!),
    after: Float32Array.from(merged.indices, (index) => end[index]!),
  };
}

describe('falloff', () => {
  for (const falloff of FALLOFFS) {
    it(`${falloff} is 1 in the middle, 0 at the rim, and never rises on the way`, () => {
      expect(computeFalloff(falloff, 0)).equal(1);
      expect(computeFalloff(falloff, 1)).equal(0);
      expect(computeFalloff(falloff, Number.NaN)).equal(0);
      for (let t = 0; t < 0.99; t += 0.01) {
        expect(computeFalloff(falloff, t + 0.01)).at.most(computeFalloff(falloff, t));
      }
    });
  }
});

describe('brush', () => {
  it('sets by strength in the middle and by falloff around it', () => {
    const surface = createSurface();
    const values = apply(
      new Float32Array(surface.count),
      computeDab(new Float32Array(surface.count), surface, DAB),
    );
    expect(values[MIDDLE]).closeTo(0.2, 1e-6);
    expect(values[MIDDLE + 1]).closeTo(0.2 * (1 - 0.1 / 0.25), 1e-6);
    expect(values[MIDDLE + 3]).equal(0);
  });

  it('smooths to the mean of the neighbours, read before any is written', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count);
    values[MIDDLE] = 1;
    const after = apply(
      values,
      computeDab(values, surface, { ...DAB, mode: 'evenOut', strength: 1, falloff: 'flat' }),
    );
    expect(after[MIDDLE]).equal(0);
    const { start, list } = surface.neighbours;
    for (const neighbour of list.subarray(start[MIDDLE]!, start[MIDDLE + 1]!)) {
      expect(after[neighbour]).closeTo(1 / (start[neighbour + 1]! - start[neighbour]!), 1e-6);
    }
  });

  it('leaves the side that faces away alone', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count);
    surface.normals.subarray(3 * MIDDLE, 3 * MIDDLE + 3).set([0, 0, -1]);
    const seen = computeDab(values, surface, { ...DAB, view: [0, 0, -1], normalAtHit: [0, 0, 1] });
    expect([...seen.indices]).not.include(MIDDLE);
    expect(seen.indices.length).above(8);
    expect([...computeDab(values, surface, DAB).indices]).include(MIDDLE);
  });

  const at = (surface: TestSurface, values: Float32Array, dab: Partial<Dab>): number =>
    apply(values, computeDab(values, surface, { ...DAB, ...dab }))[MIDDLE]!;

  it('raises, multiplies, evens out, adds contrast and clears by strength', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count).fill(0.2);
    values[MIDDLE] = 0.4;
    const expected: Record<BrushMode, number> = {
      value: 0.4 + 0.5 * (0.6 - 0.4),
      raise: 0.4 + 0.5 * 0.6,
      multiply: 0.4 + 0.5 * (0.6 * 0.4 - 0.4),
      evenOut: 0.3,
      contrast: 0.5,
      clear: 0.25,
    };
    for (const mode of BRUSH_MODES)
      expect(at(surface, values, { mode, value: 0.6, defaultValue: 0.1 }), mode).closeTo(
        expected[mode],
        1e-6,
      );
  });

  it('stays within the range of its channel, and arrives exactly where it goes', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count).fill(0.2);
    expect(at(surface, values, { mode: 'raise', value: -5 })).equal(0);
    expect(at(surface, values, { mode: 'raise', value: 5, range: [0, 1] })).equal(1);
    let painted: Float32Array = values;
    for (let dab = 0; dab < 12; dab++)
      painted = apply(painted, computeDab(painted, surface, { ...DAB, value: 0, snap: 0.0005 }));
    expect(painted[MIDDLE]).equal(0);
    let unsnapped: Float32Array = values;
    for (let dab = 0; dab < 12; dab++)
      unsnapped = apply(unsnapped, computeDab(unsnapped, surface, { ...DAB, value: 0 }));
    expect(unsnapped[MIDDLE]).above(0);
  });

  it('changes only what the mask has', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count);
    const mask = Uint8Array.from({ length: surface.count }, (_, i) => (i % 11 > 5 ? 1 : 0));
    const { indices } = computeDab(values, surface, { ...DAB, mask });
    expect(indices.length).above(3);
    expect([...indices].every((i) => i % 11 > 5)).equal(true);
    const without = [...computeDab(values, surface, DAB).indices].filter((i) => i % 11 > 5);
    expect([...indices]).deep.equal(without);
  });

  it('along the surface touches what a ball does on a plane', () => {
    const surface = createSurface();
    const along = [MIDDLE, MIDDLE + 1, MIDDLE + 11] as const;
    const ball = touchPoints(surface, DAB);
    const walked = touchPoints(surface, { ...DAB, along });
    expect(walked.points).deep.equal(ball.points);
    walked.weights.forEach((weight, k) => {
      expect(weight).closeTo(ball.weights[k]!, 0.012);
    });
    // The same again: nothing is left of the walk before.
    expect(touchPoints(surface, { ...DAB, along })).deep.equal(walked);
  });

  it('along the surface leaves alone what lies behind, and the other side of a fold', () => {
    const [front, behind] = [0, -0.02].map((z) => createSheet(10, 10, (u, v) => [u, -v, z]));
    const two = toSurface({
      positions: Float32Array.of(...front!.positions, ...behind!.positions),
      triangles: Uint32Array.of(...front!.triangles, ...behind!.triangles.map((i) => i + 121)),
    });
    const along = [MIDDLE, MIDDLE + 1, MIDDLE + 11] as const;
    expect(touchPoints(two, DAB).points.some((point) => point >= 121)).equal(true);
    expect(touchPoints(two, { ...DAB, along }).points.every((point) => point < 121)).equal(true);
    // Folded flat onto itself along its middle row.
    const folded = createSurface((u, v) => [u, -Math.min(v, 1 - v), v > 0.5 ? -0.01 : 0]);
    const place = { ...DAB, center: [0.5, -0.1, 0] as const, radius: 0.25, along: [16, 17, 27] as const };
    expect(touchPoints(folded, { ...place }).points.every((point) => point < 11 * 5)).equal(true);
    const { along: _along, ...ball } = place;
    expect(touchPoints(folded, ball).points.some((point) => point > 11 * 6)).equal(true);
  });

  it('joined to its mirror image touches both, each as much as the stronger', () => {
    const joined = joinTouched(
      { points: [1, 4, 6], weights: [0.2, 0.5, 0.9] },
      { points: [0, 4], weights: [1, 0.7] },
    );
    expect(joined).deep.equal({ points: [0, 1, 4, 6], weights: [1, 0.2, 0.7, 0.9] });
  });

  it('merged strokes undo to the exact values before (random strokes)', () => {
    const surface = createSurface();
    const coordinate = fc.double({ min: 0, max: 1, noNaN: true });
    const stroke = fc.array(fc.tuple(coordinate, coordinate, fc.constantFrom(...BRUSH_MODES), coordinate), {
      minLength: 1,
      maxLength: 12,
    });
    fc.assert(
      fc.property(stroke, (dabs) => {
        const start = Float32Array.from({ length: surface.count }, (_, i) => Math.fround(Math.sin(i)));
        let values = start.slice();
        let merged: SparseChange | null = null;
        for (const [x, y, mode, value] of dabs) {
          const change = computeDab(values, surface, { ...DAB, center: [x, -y, 0], mode, value });
          values = apply(values, change) as Float32Array<ArrayBuffer>;
          merged = merged ? mergeChanges(merged, change) : change;
        }
        expect(merged).deep.equal(compareMerged(merged!, start, values));
        const undone = values.slice();
        merged!.indices.forEach((index, k) => {
          expect(values[index]).equal(merged!.after[k]);
          undone[index] = merged!.before[k]!;
        });
        expect(undone).deep.equal(start);
      }),
    );
  });
});
