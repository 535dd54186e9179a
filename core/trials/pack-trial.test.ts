import { expect } from 'chai';
import { type CaseRows, collectRows, findWorstFrame, summariseRow } from './case-rows.ts';
import { MEASURE_KEYS, MEASURES } from './measures.ts';
import { packTrial, unpackTrial } from './pack-trial.ts';
import { createScene } from './test-scene.ts';

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
          else expect(is[key][i]).closeTo(value, top / 65_534 + 1e-12);
        });
        // To the last bit, and in the same frame.
        expect(summariseRow(is[key])?.worst).equal(summariseRow(was[key])?.worst);
        expect(findWorstFrame(is[key])).equal(findWorstFrame(was[key]));
      }
    }
    // The last two frames' jitter.
    expect(unknown).equal(4);
    expect(summariseRow(read!.whole.penetration)!.worst).above(0.06);
  });

  it('has what the machine took apart, so that the rest is the same wherever it is measured', () => {
    const slower = cases.map((each) => ({
      ...each,
      whole: { ...each.whole, cost: each.whole.cost.map((value) => value + 3) },
    }));
    expect(packTrial(slower, 'measured')).deep.equal(measured);
    expect(packTrial(slower, 'machine')).not.deep.equal(machine);
    expect(MEASURES.filter((measure) => 'isOfMachine' in measure).map(({ key }) => key)).deep.equal(['cost']);
  });

  it('is compact: two bytes a value, and what it is called', () => {
    expect(measured.length).below(2 * 2 * 60 * (1 + 2 * 9) + 6000);
  });

  it('is refused when it is damaged, or not of one trial', () => {
    expect(() => unpackTrial(measured.subarray(0, 2), machine)).throw('not the bytes of a trial');
    expect(() => unpackTrial(measured.subarray(0, measured.length - 40), machine)).throw('end too early');
    expect(() => unpackTrial(machine, measured)).throw('can not be read');
    expect(() => unpackTrial(measured, packTrial([rows], 'machine'))).throw('not of one trial');
  });
});
