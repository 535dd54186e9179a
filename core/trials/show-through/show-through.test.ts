import { expect } from 'chai';
import { createScene } from '../test-scene.ts';
import type { TrialFrame, TrialPlace } from '../trial-frame.ts';

const RADIUS = 0.12;

function findMost(frames: readonly TrialFrame[]): TrialFrame {
  return frames.reduce((most, frame) => (frame.showThrough > most.showThrough ? frame : most));
}

const findShown = ({ garments }: TrialFrame): TrialPlace | undefined => garments[0]!.places.showThrough;
const measureDepth = (frame: TrialFrame): number => findShown(frame)?.amount ?? 0;

describe('show-through', () => {
  // Covered in bind pose, 1 cm behind the sheet.
  const { frames } = createScene({ bind: -RADIUS - 0.01, from: -RADIUS - 0.01, to: 0.03 - RADIUS });

  it('is the cap that stands out of the cloth, and how far it does', () => {
    const most = findMost(frames);
    expect(most.time).closeTo(0.5, 0.05);
    expect(most.showThrough).closeTo(2 * Math.PI * RADIUS * 0.03, 2 * Math.PI * RADIUS * 0.004);
    const deepest = frames.reduce((p, q) => (measureDepth(q) > measureDepth(p) ? q : p));
    expect(measureDepth(deepest)).closeTo(0.03, 0.001);
    const { position } = findShown(deepest)!;
    expect(position[2]).closeTo(0.03, 0.002);
    expect(Math.hypot(position[0], position[1])).below(0.02);
    for (const frame of frames) {
      const height = Math.max(0, 0.03 - 0.08 * Math.abs(frame.time - 0.5));
      expect(frame.showThrough).closeTo(2 * Math.PI * RADIUS * height, 0.006);
    }
    expect(frames[0]!.showThrough).equal(0);
    expect(findShown(frames[0]!)).equal(undefined);
  });

  it('is none of what no cloth ever covered', () => {
    // In front of the sheet from the start: it touches the cloth from outside.
    const { frames: outside } = createScene({ bind: RADIUS + 0.05, from: RADIUS + 0.05, to: RADIUS + 0.005 });
    expect(findMost(outside).showThrough).equal(0);
  });

  it('is none where the cloth is held off by a body', () => {
    const { frames: held } = createScene({
      hasBody: true,
      bind: -RADIUS - 0.01,
      from: -RADIUS - 0.01,
      to: 0.03 - RADIUS,
    });
    expect(findMost(held).showThrough).below(1e-4);
  });

  it('counts what stands out of the drawn cloth, not of its sim mesh', () => {
    const { frames: drawn } = createScene({
      nearer: 0.02,
      bind: -RADIUS - 0.03,
      from: -RADIUS - 0.03,
      to: 0.01 - RADIUS,
    });
    expect(Math.max(...drawn.map(measureDepth))).closeTo(0.03, 0.002);
  });
});
