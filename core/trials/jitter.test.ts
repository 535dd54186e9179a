import { expect } from 'chai';
import fc from 'fast-check';
import type { CharacterRun } from '../run/index.ts';
import { getFrameSeconds } from './frame-rate.ts';
import { JitterMeasure, weighCubic } from './jitter.ts';

/** A garment of two vertices whose first is moved by hand, on a skinned place that is moved too. */
function createHandRun(): { run: CharacterRun; put: (offset: number, skin: number) => void } {
  const [shown, targets] = [new Float32Array(8), new Float32Array(8)];
  const garment = { shown, targets, setup: { compiled: { pointCount: 2 } } };
  return {
    run: { garments: [garment] } as unknown as CharacterRun,
    put: (offset, skin) => {
      for (const p of [0, 1]) {
        targets[4 * p + 1] = skin;
        shown[4 * p + 1] = skin + (p === 0 ? offset : 0);
      }
    },
  };
}

/** Most jitter of the first vertex over frames of a rate, where it is at `offset(seconds)` from its skinned place. */
function measureMost(
  offset: (time: number, frame: number) => number,
  rate: 30 | 60 | 120 | 'uneven' = 60,
  skin: (time: number) => number = () => 0,
): number {
  const { run, put } = createHandRun();
  const jitter = new JitterMeasure(run);
  const ys: number[] = [];
  let [time, most] = [0, 0];
  for (let frame = 0; frame < 120; frame++) {
    time += getFrameSeconds(rate, frame);
    put(offset(time, frame), skin(time));
    ys.push(offset(time, frame) + skin(time));
    jitter.note(time);
    const found = jitter.measure()?.[0];
    most = Math.max(most, found?.most ?? 0);
    // Where it was in the frame that is judged, two before this.
    if (found && found.most > 0) expect(found.position[1]).closeTo(ys[frame - 2]!, 1e-6);
    // Of two vertices one shakes.
    if (found) expect(found.mean).closeTo(found.most / Math.SQRT2, 1e-9);
  }
  return most;
}

describe('jitter', () => {
  it('is what a vertex goes to and fro by from frame to frame', () => {
    expect(measureMost((_, frame) => (frame % 2 === 0 ? 0.002 : -0.002))).closeTo(0.002, 1e-6);
    // Whatever the skinned place does meanwhile.
    expect(measureMost((_, frame) => (frame % 2 === 0 ? 0.002 : -0.002), 60, Math.sin)).closeTo(0.002, 1e-6);
  });

  it('passes a sine by the fourth power of the sine of half its turn a frame', () => {
    for (const frequency of [3, 7.5, 12, 15, 20, 28]) {
      const passed = 0.01 * Math.sin((Math.PI * frequency) / 60) ** 4;
      const most = measureMost((time) => 0.01 * Math.sin(2 * Math.PI * frequency * time + 0.4));
      // A sine is sampled near its top, not always at it.
      expect(most, `${frequency} Hz`).within(0.9 * passed - 1e-6, passed + 1e-6);
    }
  });

  it('is none of the skin’s own motion, nor of a swing, at any frame rate', () => {
    const shake = (time: number): number => 0.05 * Math.sin(2 * Math.PI * 14 * time);
    for (const rate of [30, 60, 120, 'uneven'] as const) {
      expect(
        measureMost(() => 0, rate, shake),
        `${rate}`,
      ).below(1e-7);
      // 10 cm once a second.
      expect(
        measureMost((time) => 0.1 * Math.sin(2 * Math.PI * time), rate),
        `${rate}`,
      ).below(5e-5);
    }
  });

  it('weighs any cubic to nothing, on any frames, and the middle by 3/8', () => {
    const gap = fc.double({ min: 0.004, max: 0.06, noNaN: true });
    const factor = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.tuple(gap, gap, gap, gap), fc.tuple(factor, factor, factor, factor), (gaps, factors) => {
        let last = 0;
        const times = [0, ...gaps.map((each) => (last += each))];
        const weights = weighCubic(times);
        expect(weights[2]).equal(3 / 8);
        const cubic = (t: number): number => factors.reduce((sum, value) => sum * 20 * t + value, 0);
        expect(times.reduce((sum, time, i) => sum + weights[i]! * cubic(time), 0)).closeTo(0, 1e-6);
      }),
      { seed: 16 },
    );
  });
});
