import { expect } from 'chai';
import {
  type Pricing,
  priceWork,
  REFERENCE_COSTS,
  REFERENCE_PRICING,
  type UnitCosts,
} from '../cost/index.ts';
import { WORK_KEYS } from '../run/index.ts';
import { type CaseRows, collectRows, findWorstFrame, summariseRow } from './case-rows.ts';
import { MEASURE_KEYS } from './measures.ts';
import { packTrial, unpackTrial } from './pack-trial.ts';
import { sumCaseWork } from './price-rows.ts';
import { createScene } from './test-scene.ts';

const mapCosts = (change: (cost: number) => number): Pricing => ({
  ...REFERENCE_PRICING,
  costs: Object.fromEntries(
    Object.entries(REFERENCE_COSTS).map(([unit, cost]) => [unit, change(cost)]),
  ) as UnitCosts,
});

describe('a packed trial', () => {
  const { frames, setup } = createScene({});
  const { id } = setup.garments[0]!;
  const rows = collectRows('push', frames, new Map([[id, 'Sheet']]));
  const cases: CaseRows[] = [rows, { ...rows, name: 'push · 30 fps' }];
  const [measured, machine] = [packTrial(cases, 'measured'), packTrial(cases, 'machine')];

  it('keeps every value to 1/65,534 of the highest of its row, what is unknown as unknown, and the worst frame', () => {
    const back = unpackTrial(measured, machine);
    expect(back.map(({ name }) => name)).deep.equal(['push', 'push · 30 fps']);
    const [read] = back;
    expect(read!.garments[0]!.garmentName).equal('Sheet');
    expect(read!.garments[0]!.places).deep.equal(rows.garments[0]!.places);
    let unknown = 0;
    for (const [was, is] of [
      [rows.whole, read!.whole],
      [rows.garments[0]!.rows, read!.garments[0]!.rows],
    ] as const) {
      for (const key of MEASURE_KEYS) {
        const top = summariseRow(was[key])?.worst ?? 0;
        expect(is[key].length).equal(60);
        was[key].forEach((value, i) => {
          if (Number.isNaN(value)) unknown++;
          if (Number.isNaN(value)) expect(is[key][i]).satisfy(Number.isNaN);
          else expect(is[key][i]).closeTo(value, top / (key === 'cost' ? 10_000 : 65_534) + 1e-12);
        });
        // To the last bit, and in the same frame; a cost is priced anew from counts that are kept so.
        if (key === 'cost') expect(summariseRow(is[key])!.worst).closeTo(top, top / 10_000);
        else expect(summariseRow(is[key])?.worst).equal(summariseRow(was[key])?.worst);
        if (key !== 'cost') expect(findWorstFrame(is[key])).equal(findWorstFrame(was[key]));
      }
    }
    // The last two frames' jitter.
    expect(unknown).equal(4);
    expect(summariseRow(read!.whole.penetration)!.worst).above(0.06);
  });

  it('has what the machine took apart, so that the rest is the same wherever it is measured', () => {
    const slower = cases.map((each) => ({
      ...each,
      clock: each.clock.map((row) => row.map((value) => value + 3)),
    }));
    expect(packTrial(slower, 'measured')).deep.equal(measured);
    expect(packTrial(slower, 'machine')).not.deep.equal(machine);
  });

  it('is priced when it is read: twice the unit costs, twice the cost of every frame', () => {
    const twice = mapCosts((cost) => 2 * cost);
    const [once, doubled] = [unpackTrial(measured, machine)[0]!, unpackTrial(measured, machine, twice)[0]!];
    expect(summariseRow(once.whole.cost)!.mean).above(0.001);
    once.whole.cost.forEach((cost, f) => {
      expect(doubled.whole.cost[f]).closeTo(2 * cost, 1e-6);
    });
    // By part, garment and body, what a case costs on the mean is the mean of its frames.
    const price = priceWork(sumCaseWork(once)!, REFERENCE_PRICING);
    expect(price.total).closeTo(summariseRow(once.whole.cost)!.mean, 1e-6);
    expect(price.garments[0]!.total + price.parts.skinning).above(price.total);
    expect(once.garments[0]!.work!.counts.frames!.every((count) => count === 1)).equal(true);
  });

  it('of before work was counted has what the machine took then', () => {
    const bare = {
      ...rows,
      joints: null,
      clock: [rows.times, rows.times],
      garments: rows.garments.map((one) => ({ ...one, work: null })),
    };
    const [old, oldMachine] = (['measured', 'machine'] as const).map((part) => {
      const bytes = packTrial([bare], part);
      const text = new TextDecoder('latin1').decode(bytes).indexOf('"form":2');
      bytes[text + 7] = '1'.charCodeAt(0);
      return bytes;
    });
    const [read] = unpackTrial(old!, oldMachine!);
    expect(read!.joints).equal(null);
    expect(sumCaseWork(read!)).equal(null);
    read!.whole.cost.forEach((cost, f) => {
      expect(cost).closeTo(rows.times[f]!, 1e-4);
    });
  });

  it('is compact: two bytes a value, and what it is called', () => {
    expect(measured.length).below(2 * 2 * 60 * (1 + 2 * 9) + 8000);
    // Counts that are not the same in every frame add a row each.
    const { frames: touching, setup: met } = createScene({ hasBody: true });
    const counted = collectRows('push', touching, new Map([[met.garments[0]!.id, 'Sheet']]));
    const varying = WORK_KEYS.filter((key) => new Set(counted.garments[0]!.work!.counts[key]).size > 1);
    expect(varying).include.members(['bodyVertices', 'touchedVertices']);
    expect(packTrial([counted], 'measured').length).below(2 * 60 * (1 + 2 * 9 + varying.length) + 4000);
    const [back] = unpackTrial(packTrial([counted], 'measured'), packTrial([counted], 'machine'));
    for (const key of varying)
      expect(back!.garments[0]!.work!.counts[key]).deep.equal(counted.garments[0]!.work!.counts[key]);
    expect(back!.garments[0]!.work!.bodies).deep.equal(counted.garments[0]!.work!.bodies);
  });

  it('is refused when it is damaged, or not of one trial', () => {
    expect(() => unpackTrial(measured.subarray(0, 2), machine)).throw('not the bytes of a trial');
    expect(() => unpackTrial(measured.subarray(0, measured.length - 40), machine)).throw('end too early');
    expect(() => unpackTrial(machine, measured)).throw('can not be read');
    expect(() => unpackTrial(measured, packTrial([rows], 'machine'))).throw('not of one trial');
  });
});
