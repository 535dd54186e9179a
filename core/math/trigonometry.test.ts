import { expect } from 'chai';
import fc from 'fast-check';
import { arcCosine, cosine, sine } from './trigonometry.ts';

describe('trigonometry of our own', () => {
  it('agrees with the engine to the last digits, over several turns', () => {
    fc.assert(
      fc.property(fc.double({ min: -60, max: 60, noNaN: true }), (x) => {
        expect(sine(x)).closeTo(Math.sin(x), 4e-15);
        expect(cosine(x)).closeTo(Math.cos(x), 2e-14);
      }),
      { numRuns: 2000 },
    );
    fc.assert(
      fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (x) => {
        expect(arcCosine(x)).closeTo(Math.acos(x), 2e-15);
      }),
      { numRuns: 2000 },
    );
  });

  it('is exact where it matters, and brings what is out of range to the ends', () => {
    expect([sine(0), cosine(0), arcCosine(1), arcCosine(-1)]).deep.equal([0, 1, 0, Math.PI]);
    expect([arcCosine(1.5), arcCosine(-1.5)]).deep.equal([0, Math.PI]);
    expect(sine(Math.PI / 2)).equal(1);
  });
});
