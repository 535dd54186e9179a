import { expect } from 'chai';
import type { RecordId } from '../../../../core/document/index.ts';
import { resolveLimits } from '../../../../core/trials/index.ts';
import { createFrame } from '../../../../core/trials/test-frame.ts';
import { chooseTickStep, findStrictest, isOverLimit, listReelRows } from './reel-rows.ts';

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

  it('are over when one garment is over its own limit, not when all together are', () => {
    const [a, b] = ['a', 'b'] as [RecordId, RecordId];
    const frames = [
      createFrame(0.1, [
        { garmentId: a, showThrough: 2e-4 },
        { garmentId: b, showThrough: 2e-4 },
      ]),
    ];
    expect(frames[0]!.showThrough).closeTo(4e-4, 1e-12);
    const limits = new Map([a, b].map((id) => [id, resolveLimits({ showThrough: 3e-4 })]));
    expect(isOverLimit(frames, limits, 'showThrough')).equal(false);
    limits.set(b, resolveLimits({ showThrough: 1e-4 }));
    expect(isOverLimit(frames, limits, 'showThrough')).equal(true);
    limits.set(b, resolveLimits({ showThrough: null }));
    expect(isOverLimit(frames, limits, 'showThrough')).equal(false);
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
