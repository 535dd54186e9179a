import { expect } from 'chai';
import { createSheet } from '../cloth/test-cloth.ts';
import { buildEdgeTable, buildNeighbours } from '../mesh/index.ts';
import { CHANNEL_KINDS, CHANNELS, formatValue, limitValue } from './channels/index.ts';
import { fitTop } from './fit-top.ts';
import type { SparseChange } from './sparse-change.ts';
import {
  computeClamped,
  computeFlood,
  computeInverted,
  computeOffset,
  computeScaled,
  computeSmoothAll,
} from './whole-map.ts';

function apply(values: Float32Array, change: SparseChange): number[] {
  const out = values.slice();
  change.indices.forEach((index, k) => {
    expect(change.before[k]).equal(values[index]);
    out[index] = change.after[k]!;
  });
  return [...out].map((value) => Number(value.toFixed(6)));
}

const REACH = { kind: 'maxDistance' } as const;
const VALUES = Float32Array.of(0, 0.1, 0.2, 0.4);

describe('a whole map', () => {
  it('is offset, scaled and clamped with its held points held', () => {
    expect(apply(VALUES, computeOffset(VALUES, 0.05, REACH))).deep.equal([0, 0.15, 0.25, 0.45]);
    expect(apply(VALUES, computeOffset(VALUES, -0.15, REACH))).deep.equal([0, 0, 0.05, 0.25]);
    expect(apply(VALUES, computeScaled(VALUES, 2, REACH))).deep.equal([0, 0.2, 0.4, 0.8]);
    expect(apply(VALUES, computeClamped(VALUES, 0.15, 0.3, REACH))).deep.equal([0, 0.15, 0.2, 0.3]);
    expect(apply(VALUES, computeClamped(VALUES, 0.15, 0.3, { ...REACH, keepsHeld: false }))[0]).equal(0.15);
    expect(() => computeClamped(VALUES, 0.3, 0.1, REACH)).throw('lower limit 0.3 lies above');
  });

  it('is flooded and turned upside down, held points too, and comes back', () => {
    expect(apply(VALUES, computeFlood(VALUES, 0.3, REACH))).deep.equal([0.3, 0.3, 0.3, 0.3]);
    const turned = apply(VALUES, computeInverted(VALUES, REACH));
    expect(turned).deep.equal([0.4, 0.3, 0.2, 0]);
    const back = Float32Array.from(turned);
    expect(apply(back, computeInverted(back, REACH))).deep.equal([0, 0.1, 0.2, 0.4]);
  });

  it('changes only within a mask, which also sets the ends of turning upside down', () => {
    const mask = Uint8Array.of(0, 1, 1, 0);
    expect(apply(VALUES, computeFlood(VALUES, 1, { ...REACH, mask }))).deep.equal([0, 1, 1, 0.4]);
    expect(apply(VALUES, computeInverted(VALUES, { ...REACH, mask }))).deep.equal([0, 0.2, 0.1, 0.4]);
  });

  it('stays in the range of its channel', () => {
    const scales = Float32Array.of(0, 1, 15, 20);
    const options = { kind: 'stiffness' } as const;
    expect(apply(scales, computeScaled(scales, 2, options))).deep.equal([0, 2, 20, 20]);
    // A scale of 0 is not a hold.
    expect(apply(scales, computeOffset(scales, 1, options))).deep.equal([1, 2, 16, 20]);
    for (const kind of CHANNEL_KINDS) {
      const { range, defaultValue } = CHANNELS[kind];
      expect(limitValue(kind, -1)).equal(range[0]);
      expect(limitValue(kind, Number.POSITIVE_INFINITY)).equal(range[1]);
      expect(limitValue(kind, Number.NaN)).equal(defaultValue);
      expect(limitValue(kind, defaultValue)).equal(defaultValue);
    }
  });

  it('is smoothed with held points held, row by row towards them', () => {
    const { triangles } = createSheet(10, 10, (u, v) => [u, -v, 0]);
    const neighbours = buildNeighbours(buildEdgeTable(triangles, 121), 121);
    const values = new Float32Array(121).fill(0.3).fill(0, 0, 11);
    const smoothed = apply(values, computeSmoothAll(values, neighbours, 0.5, 8, REACH));
    expect(smoothed.slice(0, 11).every((value) => value === 0)).equal(true);
    for (let row = 1; row < 6; row++) expect(smoothed[11 * row + 5]).below(smoothed[11 * (row + 1) + 5]!);
    const mask = new Uint8Array(121).fill(1, 60);
    const masked = apply(values, computeSmoothAll(values, neighbours, 0.5, 8, { ...REACH, mask }));
    expect(masked.slice(0, 60)).deep.equal([...values.subarray(0, 60)].map((v) => Number(v.toFixed(6))));
  });

  it('has a legend that holds the largest value, in round numbers', () => {
    const topOf = (...values: number[]): number => fitTop('maxDistance', Float32Array.from(values));
    expect([topOf(0, 0.31), topOf(0.4), topOf(0), topOf(44), topOf(0.061)]).deep.equal([
      0.4, 0.4, 0.05, 50, 0.08,
    ]);
    expect(fitTop('maxDistance', undefined)).equal(0.05);
    expect(fitTop('stiffness', Float32Array.of(1, 2.4))).equal(3);
    // No limit is not a depth.
    expect(fitTop('inwardLimit', Float32Array.of(0.3, 0.3, 0.11))).equal(0.15);
    expect(fitTop('lining', Float32Array.of(1))).equal(1);
  });

  it('shows its values with their unit', () => {
    expect(formatValue('maxDistance', 0.1234)).equal('12.3 cm');
    expect(formatValue('stiffness', 1.5)).equal('×1.50');
    expect(formatValue('lining', 1)).equal('100.0 %');
    expect(formatValue('inwardLimit', 0.02)).equal('2.0 cm');
    expect(formatValue('inwardLimit', 0.3)).equal('no limit');
  });
});
