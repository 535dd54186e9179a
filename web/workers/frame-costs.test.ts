import { expect } from 'chai';
import { NO_RUN_TIMES } from '../../core/run/index.ts';
import { FrameCosts } from './frame-costs.ts';

const frame = (stretch: number, bend: number) => ({ ...NO_RUN_TIMES, stretch, bend });

describe('the cost of a simulated frame', () => {
  it('is what quick frames take, however many are disturbed, and tells how far they scatter', () => {
    const costs = new FrameCosts();
    expect(costs.summarise()).equal(null);
    for (let i = 0; i < 180; i++) costs.add(i * 16, i % 5 < 3 ? frame(3.6, 4.4) : frame(0.8, 1));
    const { parts, quick, slow } = costs.summarise()!;
    expect(parts.stretch).closeTo(0.8, 1e-9);
    expect(parts.bend).closeTo(1, 1e-9);
    expect(quick).closeTo(1.8, 1e-9);
    expect(slow).closeTo(8, 1e-9);
  });

  it('forgets frames of more than three seconds ago, and all when told', () => {
    const costs = new FrameCosts();
    for (let i = 0; i < 60; i++) costs.add(i * 16, frame(1, 1));
    for (let i = 0; i < 200; i++) costs.add(1000 + i * 16, frame(2, 3));
    expect(costs.summarise()!.parts.stretch).closeTo(2, 1e-9);
    costs.clear();
    expect(costs.summarise()).equal(null);
  });
});
