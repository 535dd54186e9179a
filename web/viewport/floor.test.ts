import { expect } from 'chai';
import { roundStep } from './floor.ts';

describe('dots on the floor', () => {
  it('stand 1, 2 or 5 times a power of ten apart, nearest to what is asked for', () => {
    expect(
      [0.2, 0.0022, 2.2, 0.7, 0.04, 9.9].map((value) => Number(roundStep(value).toPrecision(6))),
    ).deep.equal([0.2, 0.002, 2, 0.5, 0.05, 10]);
  });
});
