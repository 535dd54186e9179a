import { expect } from 'chai';
import fc from 'fast-check';
import {
  CAMERA_DEFAULTS,
  type CrowdMember,
  countFitting,
  distanceAt,
  findBandAt,
  listDistances,
  pixelsAt,
  planCrowd,
} from './index.ts';
import { shareAmong, spreadOverBands } from './plan-crowd.ts';

const PILOT: CrowdMember = {
  id: 'pilot',
  name: 'Pilot',
  height: 1.8,
  bands: [
    { from: 400, cost: 1, switchCost: null },
    { from: 100, cost: 0.5, switchCost: 1.4 },
    { from: 0, cost: 0.1, switchCost: 0.6 },
  ],
};
const camera = CAMERA_DEFAULTS;

describe('a camera of a crowd', () => {
  it('sees as many pixels as a pinhole does: a character as high as the picture fills it', () => {
    const ninety = { fieldOfView: Math.PI / 2, screenHeight: 1080 };
    expect(pixelsAt(ninety, 2, 1)).closeTo(1080, 1e-9);
    expect(pixelsAt(ninety, 2, 10)).closeTo(108, 1e-9);
    expect(distanceAt(ninety, 2, 0)).equal(Number.POSITIVE_INFINITY);
  });

  it('has bands end to end, where the sizes are', () => {
    const distances = listDistances(PILOT, camera);
    expect(distances[0]!.near).equal(0);
    expect(distances.at(-1)!.far).equal(Number.POSITIVE_INFINITY);
    distances.slice(1).forEach(({ near }, b) => {
      expect(near).equal(distances[b]!.far);
      expect(pixelsAt(camera, 1.8, near)).closeTo(PILOT.bands[b]!.from, 1e-9);
      expect([findBandAt(PILOT, camera, near * 0.999), findBandAt(PILOT, camera, near * 1.001)]).deep.equal([
        b,
        b + 1,
      ]);
    });
  });
});

describe('a crowd', () => {
  it('is spread by the ground that is there, and nobody is lost', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 500 }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        (count, near, more) => {
          const counts = spreadOverBands(PILOT, { count, near, far: near + more }, camera);
          expect(counts.reduce((sum, value) => sum + value, 0)).equal(count);
          for (const value of counts) expect(value).least(0);
        },
      ),
    );
    // From the middle of the first band out to twice its end: the ring beyond has 3 parts, the one within 3/4.
    const [first] = listDistances(PILOT, camera);
    const group = { count: 375, near: first!.far / 2, far: 2 * first!.far };
    expect(spreadOverBands(PILOT, group, camera)).deep.equal([75, 300, 0]);
    expect(spreadOverBands(PILOT, { count: 9, near: 1, far: 1 }, camera)).deep.equal([9, 0, 0]);
  });

  it('costs what its characters cost, and at worst what they cost while all go over', () => {
    const far = listDistances(PILOT, camera)[1]!.near * 1.01;
    const groups = [
      { memberId: 'pilot', count: 2, near: 1, far: 1 },
      { memberId: 'pilot', count: 3, near: far, far },
      { memberId: 'nobody', count: 9, near: 1, far: 2 },
    ];
    const plan = planCrowd([PILOT], groups, camera, { budget: 3.5, cores: 1 });
    expect(plan).deep.include({ count: 5, sum: 3.5, cost: 3.5, isWithin: true, isWorstWithin: false });
    // The near ones go over to the second band, those at its near bound come from the first.
    expect(plan.worstSum).closeTo(5 * 1.4, 1e-9);
    const two = planCrowd([PILOT], groups, camera, { budget: 3.5, cores: 2 });
    expect([two.sum, two.cost]).deep.equal([3.5, 2]);
  });

  it('has as many as fit: one more does not', () => {
    for (const cores of [1, 2, 3])
      for (const budget of [0.95, 1, 2.35]) {
        const target = { budget, cores };
        PILOT.bands.forEach((_, band) => {
          const count = countFitting(PILOT, band, target);
          const { near, far } = listDistances(PILOT, camera)[band]!;
          const at = Number.isFinite(far) ? (near + far) / 2 : 2 * near;
          const plan = (n: number) =>
            planCrowd([PILOT], [{ memberId: 'pilot', count: n, near: at, far: at }], camera, target);
          if (count > 0) expect(plan(count).cost).most(budget + 1e-9);
          expect(plan(count + 1).isWithin).equal(false);
        });
      }
    const free = { ...PILOT, bands: [{ from: 0, cost: 0, switchCost: null }] };
    expect(countFitting(free, 0, { budget: 1, cores: 1 })).equal(Number.POSITIVE_INFINITY);
  });

  it('is shared among cores at most a third worse than at best', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 5, noNaN: true }), { maxLength: 9 }),
        fc.integer({ min: 1, max: 3 }),
        (costs, cores) => {
          const shared = shareAmong(costs, cores);
          const best = findBestSharing(costs, cores);
          expect(shared).within(best - 1e-9, (4 / 3) * best + 1e-9);
        },
      ),
    );
  });
});

/** By trying every sharing. */
function findBestSharing(costs: readonly number[], cores: number): number {
  let best = Number.POSITIVE_INFINITY;
  const loads = new Array<number>(cores).fill(0);
  const place = (i: number): void => {
    if (Math.max(...loads) >= best) return;
    if (i === costs.length) {
      best = Math.max(...loads);
      return;
    }
    for (let c = 0; c < cores; c++) {
      loads[c] = loads[c]! + costs[i]!;
      place(i + 1);
      loads[c] = loads[c]! - costs[i]!;
    }
  };
  place(0);
  return best;
}
