import { expect } from 'chai';
import type { LevelRate } from '../document/index.ts';
import { FrameGate } from './frame-gate.ts';

/** Steps and shares that a gate lets through, frame by frame. */
function play(rate: LevelRate, frames: readonly number[]): { steps: number[]; shares: number[] } {
  const gate = new FrameGate(rate);
  const steps: number[] = [];
  const shares = frames.map((seconds) => {
    steps.push(gate.pass(seconds));
    return gate.share;
  });
  return { steps, shares };
}

const even = (rate: number, count: number): number[] => Array.from({ length: count }, () => 1 / rate);

describe('frames in which a garment is simulated', () => {
  it('are all, or every other one, with all the time between them', () => {
    const all = play('everyFrame', even(60, 4));
    expect(all.steps).deep.equal(even(60, 4));
    expect(all.shares).deep.equal([1, 1, 1, 1]);
    const other = play('everyOther', even(60, 6));
    expect(other.steps).deep.equal([0, 1 / 30, 0, 1 / 30, 0, 1 / 30]);
    other.shares.slice(1).forEach((share, i) => {
      expect(share).closeTo(i % 2 === 0 ? 0.5 : 1, 1e-6);
    });
  });

  it('are thirty a second at any rate, as near as frames allow, and lose no time', () => {
    for (const rate of [24, 30, 60, 90, 120, 144]) {
      const { steps } = play('thirty', even(rate, 10 * rate));
      const simulated = steps.filter((seconds) => seconds > 0);
      const expected = Math.min(rate, rate / Math.round(rate / 30));
      expect(simulated.length / 10, `${rate}`).closeTo(expected, 0.2);
      const sum = simulated.reduce((total, seconds) => total + seconds, 0);
      expect(sum, `${rate}`).closeTo(10, 1 / 29);
    }
  });

  it('show a way that never goes back between two states, on uneven frames too', () => {
    const frames = Array.from({ length: 60 }, (_, i) => (i % 3 === 0 ? 1 / 40 : 1 / 90));
    for (const rate of ['everyOther', 'thirty'] as const) {
      const { steps, shares } = play(rate, frames);
      shares.forEach((share, i) => {
        expect(share).within(0, 1);
        if (i > 0 && steps[i] === 0) expect(share).least(shares[i - 1]!);
      });
    }
  });
});
