import { expect } from 'chai';
import { priceWork, REFERENCE_COSTS, REFERENCE_PRICING, type UnitCosts } from '../cost/index.ts';
import type { RecordId } from '../document/index.ts';
import { sumWork } from '../run/index.ts';
import { collectRows, summariseRow } from './case-rows.ts';
import { packTrial, unpackTrial } from './pack-trial.ts';
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

  it('take the longest chain on several cores: frame by frame, the same from frames and from rows', () => {
    const [first] = setup.garments;
    // Three alike; the third waits for the second.
    const ids = [first!.id, 'b', 'c'] as RecordId[];
    const waits = [[], [], ['b' as RecordId]];
    const several = frames.map((frame) => ({
      ...frame,
      garments: ids.map((garmentId) => ({ ...frame.garments[0]!, garmentId })),
      garmentTimes: ids.map(() => 0),
      work: {
        ...frame.work,
        garments: ids.map((garmentId, g) => ({ ...frame.work.garments[0]!, garmentId, waitsFor: waits[g]! })),
      },
    }));
    const worn = collectRows('push', several, new Map());
    const onTwo = { ...REFERENCE_PRICING, cores: 2 };
    const [one, two] = [REFERENCE_PRICING, onTwo].map((pricing) => priceFrames(several, pricing));
    const rowsOnTwo = priceRows(worn, onTwo);
    one!.forEach(({ cost, garments: [garment] }, f) => {
      // Of three only one is beside another.
      expect(two![f]!.cost).closeTo(cost - garment!.cost, 1e-9);
      expect(rowsOnTwo.whole.cost[f]).closeTo(two![f]!.cost, 1e-6);
    });
    expect(rowsOnTwo.garments[2]!.rows.cost).deep.equal(
      priceRows(worn, REFERENCE_PRICING).garments[2]!.rows.cost,
    );
    const price = priceWork(sumCaseWork(worn)!, onTwo);
    expect(price.sum).closeTo(priceWork(sumCaseWork(worn)!, REFERENCE_PRICING).total, 1e-9);
    expect(price.total).below(price.sum);
    // Kept as they are; of before it was told each waits for all beneath it.
    const [packed] = unpackTrial(packTrial([worn], 'measured'), packTrial([worn], 'machine'), onTwo);
    expect(packed!.garments.map(({ work }) => work!.waitsFor)).deep.equal(waits);
    const untold = { ...worn, garments: worn.garments.map((each) => ({ ...each, work: { ...each.work! } })) };
    for (const { work } of untold.garments) delete work.waitsFor;
    expect(priceRows(untold, onTwo).whole.cost).deep.equal(priceRows(untold, REFERENCE_PRICING).whole.cost);
  });

  it('cost nothing of no frames', () => {
    expect(sumWork([])).equal(null);
    expect(priceFrames([], REFERENCE_PRICING)).deep.equal([]);
  });
});
