import { expect } from 'chai';
import type { RecordId } from '../document/index.ts';
import { type CaseRows, MEASURE_KEYS, type MeasureRows, resolveLimits } from '../trials/index.ts';
import { scoreRows } from './score-rows.ts';

const [coat, scarf] = ['coat', 'scarf'] as [RecordId, RecordId];

/** Rows of two frames that are 0 but for what is told of each garment. */
function createCase(values: Partial<Record<'coat' | 'scarf', Partial<Record<string, number>>>>): CaseRows {
  const toRows = (of: Partial<Record<string, number>> = {}): MeasureRows =>
    Object.fromEntries(
      MEASURE_KEYS.map((key) => [key, Float32Array.of(0, of[key] ?? 0)]),
    ) as unknown as MeasureRows;
  return {
    name: 'walk',
    times: Float32Array.of(0, 1 / 60),
    whole: toRows({ cost: values.coat?.cost ?? 0 }),
    garments: [coat, scarf].map((garmentId) => ({
      garmentId,
      garmentName: garmentId,
      rows: toRows(values[garmentId as 'coat' | 'scarf']),
      places: {},
      work: null,
    })),
    joints: null,
    clock: [],
  };
}

describe('the score of a candidate', () => {
  const own = resolveLimits({
    penetration: 0.008,
    stretch: 0.1,
    showThrough: null,
    layers: null,
    jitter: null,
  });
  const limits = new Map([
    [coat, own],
    [scarf, own],
  ]);
  const score = (...cases: CaseRows[]) => scoreRows(cases, coat, limits, null);

  it('is the mean of the worst values over their limits', () => {
    const {
      score: found,
      passes,
      worst,
    } = score(createCase({ coat: { penetration: 0.004, stretch: 0.05 } }));
    expect(found).closeTo(0.5, 1e-6);
    expect(passes).equal(true);
    expect(worst.penetration).equal(Math.fround(0.004));
    // The worst of several runs.
    const other = createCase({ coat: { penetration: 0.008 } });
    expect(score(createCase({ coat: { penetration: 0.004 } }), other).score).closeTo(0.5, 1e-6);
  });

  it('counts what is beyond a limit five times', () => {
    const found = score(createCase({ coat: { penetration: 0.016 } }));
    // Twice the limit: 2, and 4 for what is over, of two measures.
    expect(found.score).closeTo(3, 1e-6);
    expect(found.passes).equal(false);
  });

  it('is that of the garment, whatever others do; but for what stands out of another', () => {
    expect(score(createCase({ scarf: { penetration: 0.05, stretch: 1 } })).score).equal(0);
    const layered = new Map([
      [coat, { ...own, layers: 0.01 }],
      [scarf, { ...own, layers: 0.01 }],
    ]);
    const cases = [createCase({ scarf: { layers: 0.005 } })];
    expect(scoreRows(cases, coat, layered, null).score).closeTo(0.5 / 3, 1e-6);
  });

  it('counts cost beyond the budget only', () => {
    // The mean of two frames.
    const cases = [createCase({ coat: { cost: 4 } })];
    expect(scoreRows(cases, coat, limits, 3)).deep.include({ score: 0, cost: 2, passes: true });
    const over = scoreRows(cases, coat, limits, 1);
    expect(over.score).closeTo(4, 1e-6);
    expect(over.passes).equal(false);
  });
});
