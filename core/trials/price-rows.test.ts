import { expect } from 'chai';
import { priceWork, REFERENCE_COSTS, REFERENCE_PRICING, type UnitCosts } from '../cost/index.ts';
import { sumWork } from '../run/index.ts';
import { collectRows, summariseRow } from './case-rows.ts';
import { priceFrames, priceRows, sumCaseWork } from './price-rows.ts';
import { createScene } from './test-scene.ts';

describe('priced trials', () => {
  const { frames, setup } = createScene({ hasBody: true });
  const rows = collectRows('push', frames, new Map([[setup.garments[0]!.id, 'Sheet']]));
  /** Edges alone cost anything: a microsecond each. */
  const costs = Object.fromEntries(
    Object.keys(REFERENCE_COSTS).map((unit) => [unit, unit === 'edge' ? 1000 : 0]),
  ) as UnitCosts;
  const edgesOnly = { costs, framesPerSecond: 60 };

  it('cost what their work does: by edges alone as many microseconds as there are edges, passes and substeps', () => {
    const { compiled, fabric } = setup.garments[0]!;
    const edges = compiled.stretchRest.length * (fabric.substepsPerSecond / 60) * fabric.iterations;
    for (const { cost, garments } of priceFrames(frames, edgesOnly)) {
      expect(cost).closeTo(edges / 1000, 1e-9);
      expect(garments[0]!.cost).closeTo(cost, 1e-9);
    }
    const priced = priceRows(rows, edgesOnly);
    for (const cost of priced.whole.cost) expect(cost).closeTo(edges / 1000, 1e-5);
    // Nothing else is touched.
    expect(priced.whole.penetration).equal(rows.whole.penetration);
  });

  it('are the same however they are summed: frame by frame, or all work at once', () => {
    const whole = sumWork(frames.map(({ work }) => work))!;
    const mean = summariseRow(rows.whole.cost)!.mean;
    expect(priceWork(whole, REFERENCE_PRICING).total).closeTo(mean, 1e-6);
    expect(priceWork(sumCaseWork(rows)!, REFERENCE_PRICING).total).closeTo(mean, 1e-6);
    // The ball is met while the sheet lies on it.
    const [body] = [...priceWork(whole, REFERENCE_PRICING).garments[0]!.bodies];
    expect(body![0]).equal('ball');
    expect(body![1]).above(0);
  });

  it('cost nothing of no frames', () => {
    expect(sumWork([])).equal(null);
    expect(priceFrames([], REFERENCE_PRICING)).deep.equal([]);
  });
});
