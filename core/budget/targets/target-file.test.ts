import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { findProjectRoot } from '../../../server/project-root.ts';
import { findBudget, REFERENCE_COSTS, REFERENCE_TARGET, type TargetProfile } from '../../cost/index.ts';
import { WORK_UNITS } from '../../run/index.ts';
import { parseTargetFile, writeTargetFile } from './index.ts';

const TARGET: Omit<TargetProfile, 'id'> = {
  name: 'Handheld',
  framesPerSecond: 30,
  share: 0.1,
  budgetMilliseconds: null,
  cores: 2,
  costs: {
    name: 'Handheld',
    source: 'timings',
    machine: null,
    measuredAt: '2026-01-01T00:00:00.000Z',
    costs: REFERENCE_COSTS,
    fit: null,
    groups: [{ key: 'stretch', factor: 1.25, error: 0.02, isAssumed: false }],
    timed: [{ name: 'plain small', predicted: 0.3, measured: 0.31 }],
  },
};

describe('a target profile', () => {
  const schema = JSON.parse(
    readFileSync(join(findProjectRoot(), 'docs/formats/target-profile.schema.json'), 'utf8'),
  );
  const accepts = new Ajv2020({ allErrors: true }).compile(schema);

  it('has a budget that follows from its frame, unless it is typed', () => {
    expect(findBudget(REFERENCE_TARGET)).closeTo(2, 1e-9);
    expect(findBudget(TARGET)).closeTo(10 / 3, 1e-9);
    expect(findBudget({ ...TARGET, budgetMilliseconds: 0.7 })).equal(0.7);
  });

  it('comes back the same from its file, which the published schema accepts', () => {
    for (const target of [TARGET, { ...REFERENCE_TARGET, budgetMilliseconds: 1.5 }]) {
      const file = JSON.parse(JSON.stringify(writeTargetFile(target)));
      expect(accepts(file), JSON.stringify(accepts.errors)).equal(true);
      const back = parseTargetFile(JSON.stringify(file));
      expect(writeTargetFile(back)).deep.equal(file);
      expect(back.costs.costs).deep.equal(target.costs.costs);
    }
    expect(schema.properties.nanoseconds.required).deep.equal([...WORK_UNITS]);
  });

  it('that is damaged is refused by both, with what is wrong', () => {
    const file = writeTargetFile(TARGET);
    const { edge: _edge, ...less } = REFERENCE_COSTS;
    for (const [wrong, message] of [
      [{ ...file, nanoseconds: less }, 'nanoseconds.edge is no number'],
      [{ ...file, nanoseconds: { ...REFERENCE_COSTS, edge: -1 } }, 'nanoseconds.edge'],
      [{ ...file, framesPerSecond: 1000 }, 'framesPerSecond'],
      [{ ...file, share: '10 %' }, 'share'],
      [{ ...file, name: '' }, 'name'],
      [{ ...file, version: 2 }, 'Its version is 2'],
      [{ ...file, timed: [{ name: 'a', predicted: 1 }] }, 'timed[0].measured'],
    ] as const) {
      expect(() => parseTargetFile(JSON.stringify(wrong)), message).throw(message);
      expect(accepts(wrong), message).equal(false);
    }
    expect(() => parseTargetFile('{')).throw('not JSON');
    expect(() => parseTargetFile('null')).throw('no target profile');
  });
});
