import { expect } from 'chai';
import { resolveLimits } from '../../../../core/trials/index.ts';
import { chooseTickStep, findStrictest, listReelRows } from './reel-rows.ts';

describe('rows of the reel', () => {
  it('are those of trials; a single garment has no layers', () => {
    expect(listReelRows(2).map(({ label }) => label)).deep.equal([
      'show-through',
      'penetration',
      'layers',
      'stretch',
      'jitter',
      'cost',
    ]);
    expect(listReelRows(1).map(({ key }) => key)).not.include('layers');
  });

  it('have the strictest limit of any garment, in their unit, or none', () => {
    const penetration = listReelRows(1).find(({ key }) => key === 'penetration')!;
    const limits = [resolveLimits({ penetration: 0.02 }), resolveLimits({ penetration: 0.004 })];
    expect(findStrictest(limits, penetration)).equal(4);
    expect(findStrictest([resolveLimits({ penetration: null })], penetration)).equal(null);
    expect(findStrictest([], penetration)).equal(null);
  });

  it('have at most ten marks of time, at even seconds', () => {
    for (const duration of [0.1, 0.67, 1.07, 2.8, 4, 11, 47, 300, 1000]) {
      const step = chooseTickStep(duration);
      expect(duration / step, `${duration} s`).within(1, 9);
    }
    expect(chooseTickStep(4)).equal(0.5);
    expect(chooseTickStep(0.67)).equal(0.1);
  });
});
