import { expect } from 'chai';
import { REFERENCE_COSTS, type UnitCosts } from '../../cost/index.ts';
import { createRandom } from '../../math/index.ts';
import { type RunWork, WORK_UNITS } from '../../run/index.ts';
import { COST_GROUPS, countTargetWork, fitTarget, type GarmentTimings, listTargetGarments } from './index.ts';
import { makeUpTimes, scaleByGroup } from './test-timings.ts';

function finish<T>(work: Generator<number, T>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}

/** A factor for each kind of work, in their order. */
function scale(factors: readonly number[]): UnitCosts {
  return scaleByGroup(Object.fromEntries(COST_GROUPS.map(({ key }, g) => [key, factors[g]!])));
}

describe('unit costs from timings of another machine', function () {
  this.timeout(60_000);
  const garments = listTargetGarments();
  let works: RunWork[];

  before(() => {
    works = finish(countTargetWork(garments));
  });

  /** Three times of each garment, each off by noise of its own. */
  function time(costs: UnitCosts, noise: number, random: () => number): GarmentTimings[] {
    return garments.map(({ spec }, g) => ({
      name: spec.name,
      work: works[g]!,
      milliseconds: makeUpTimes(works[g]!, costs, { noise, count: 3, random }),
    }));
  }

  it('cover every unit of work once', () => {
    expect(COST_GROUPS.flatMap(({ units }) => units).sort()).deep.equal([...WORK_UNITS].sort());
  });

  it('are those that the timings were made by, to the last digits, without noise', () => {
    const factors = [0.5, 2, 0.8, 1.4, 0.3, 1, 3];
    const { groups, costs, timed } = fitTarget(time(scale(factors), 0, Math.random), REFERENCE_COSTS);
    groups.forEach(({ factor, isAssumed }, g) => {
      expect(isAssumed).equal(false);
      expect(factor).closeTo(factors[g]!, 1e-6);
    });
    expect(costs.edge).closeTo(0.5 * REFERENCE_COSTS.edge, 1e-6);
    for (const { predicted, measured } of timed) expect(predicted).closeTo(measured, 1e-6);
  });

  it('are recovered within 10 % from timings that are off by 5 %, and say how sure they are', () => {
    const random = createRandom(11);
    const off: number[] = [];
    const inErrors: number[] = [];
    for (let machine = 0; machine < 60; machine++) {
      const factors = COST_GROUPS.map(() => 0.4 * 6 ** random());
      const { groups } = fitTarget(time(scale(factors), 0.05, random), REFERENCE_COSTS);
      groups.forEach(({ factor, error, isAssumed }, g) => {
        expect(isAssumed, `${g} of machine ${machine}`).equal(false);
        off.push(Math.abs(factor / factors[g]! - 1));
        inErrors.push(Math.abs(factor - factors[g]!) / error);
      });
    }
    off.sort((p, q) => p - q);
    inErrors.sort((p, q) => p - q);
    expect(off[Math.floor(0.5 * off.length)]).below(0.035);
    expect(off[Math.floor(0.95 * off.length)]).below(0.1);
    // Told errors are standard errors: two of three are within one, nearly all within three.
    expect(inErrors[Math.floor(0.68 * inErrors.length)]).within(0.7, 1.4);
    expect(inErrors[Math.floor(0.99 * inErrors.length)]).below(4);
  });

  it('that the timings do not tell are as all work together, and it is said', () => {
    const factors = COST_GROUPS.map(({ key }) => (key === 'skinning' ? 0.6 : 1.5));
    const without = time(scale(factors), 0, Math.random).filter(
      ({ name }) => !/self|layers|body mesh/.test(name),
    );
    const { groups, costs } = fitTarget(without, REFERENCE_COSTS);
    const find = (key: string) => groups.find((group) => group.key === key)!;
    expect(groups.filter(({ isAssumed }) => isAssumed).map(({ key }) => key)).deep.equal(['self', 'layers']);
    expect(find('stretch').factor).closeTo(1.5, 1e-6);
    expect(find('self').factor).within(0.9, 1.5);
    expect(costs.selfPair).closeTo(find('self').factor * REFERENCE_COSTS.selfPair, 1e-9);
    // Of one garment alone only its pace can be told.
    const [alone] = time(scale(factors.map(() => 2)), 0, Math.random);
    const one = fitTarget([alone!], REFERENCE_COSTS);
    expect(one.groups.every(({ isAssumed, factor }) => isAssumed && Math.abs(factor - 2) < 1e-9)).equal(true);
    expect(() => fitTarget([], REFERENCE_COSTS)).throw('Nothing was timed');
  });

  it('are 0 of what a machine does elsewhere, which is known, not assumed', () => {
    const factors = COST_GROUPS.map(({ key }) => (key === 'skinning' ? 0 : 1.2));
    const { groups } = fitTarget(time(scale(factors), 0.03, createRandom(4)), REFERENCE_COSTS);
    const skinning = groups.find(({ key }) => key === 'skinning')!;
    expect(skinning.isAssumed).equal(false);
    expect(skinning.factor).below(0.03);
  });
});
