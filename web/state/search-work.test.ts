import { expect } from 'chai';
import { listGarments } from '../../core/document/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { suggestBounds } from './search-work.ts';

describe('what a number may move within at first', () => {
  const { document } = createScene({});
  const garment = listGarments(document)[0]!;
  const suggest = (key: Parameters<typeof suggestBounds>[2]) => suggestBounds({ document }, garment, key);

  it('lies about where it is, within its range', () => {
    expect(suggest('reach')).deep.equal({ key: 'reach', low: 0.25, high: 3 });
    expect(suggest('margin')).deep.equal({ key: 'margin', low: -0.025, high: 0.025 });
    const { low, high } = suggest('bendStiffness');
    expect(high / low).closeTo(16, 1e-9);
    const damping = suggest('damping');
    expect(damping.low).equal(0);
    // A quarter of what it may be at most, 20, above the 0.8 of the fabric.
    expect(damping.high).closeTo(5.8, 1e-9);
  });
});
