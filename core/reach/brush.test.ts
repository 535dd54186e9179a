import { expect } from 'chai';
import fc from 'fast-check';
import { createSheet } from '../cloth/test-cloth.ts';
import { buildEdgeTable, buildNeighbours, computeVertexNormals } from '../mesh/index.ts';
import {
  type BrushSurface,
  computeDab,
  computeFlood,
  computeSmoothAll,
  type Dab,
  mergeChanges,
  type SparseChange,
} from './brush.ts';
import { computeFalloff, FALLOFFS } from './falloff.ts';

/** 11 × 11 points a tenth apart in the plane z = 0, facing +Z. */
function createSurface(): BrushSurface & { count: number } {
  const { positions, triangles } = createSheet(10, 10, (u, v) => [u, -v, 0]);
  const count = positions.length / 3;
  return {
    positions,
    stride: 3,
    normals: computeVertexNormals(positions, triangles, new Float32Array(positions.length)),
    neighbours: buildNeighbours(buildEdgeTable(triangles, count), count),
    count,
  };
}

const DAB: Dab = {
  center: [0.5, -0.5, 0],
  radius: 0.25,
  strength: 0.5,
  falloff: 'linear',
  mode: 'set',
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
      computeDab(values, surface, { ...DAB, mode: 'smooth', strength: 1, falloff: 'flat' }),
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

  it('floods and smooths the whole, held points held', () => {
    const surface = createSurface();
    const values = new Float32Array(surface.count);
    const flooded = apply(values, computeFlood(values, 0.3));
    expect([...new Set(flooded)]).deep.equal([Math.fround(0.3)]);
    flooded.fill(0, 0, 11);
    const smoothed = apply(flooded, computeSmoothAll(flooded, surface.neighbours, 0.5, 8));
    expect(smoothed.subarray(0, 11).every((value) => value === 0)).equal(true);
    // Falls towards the held row, row by row.
    for (let row = 1; row < 6; row++) expect(smoothed[11 * row + 5]).below(smoothed[11 * (row + 1) + 5]!);
  });

  it('merged strokes undo to the exact values before (random strokes)', () => {
    const surface = createSurface();
    const coordinate = fc.double({ min: 0, max: 1, noNaN: true });
    const stroke = fc.array(
      fc.tuple(coordinate, coordinate, fc.constantFrom('set' as const, 'smooth' as const), coordinate),
      { minLength: 1, maxLength: 12 },
    );
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
