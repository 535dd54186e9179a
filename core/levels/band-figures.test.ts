import { expect } from 'chai';
import { REFERENCE_PRICING } from '../cost/index.ts';
import { createMember } from '../crowd/index.ts';
import type { RecordId } from '../document/index.ts';
import { collectRows, priceRows } from '../trials/index.ts';
import { createScene } from '../trials/test-scene.ts';
import { summariseBand } from './band-figures.ts';

describe('the figures of a size on the screen', () => {
  const { frames, setup } = createScene({ hasBody: true });
  const ids = [setup.garments[0]!.id, 'other' as RecordId];
  /** Two garments alike that do not wait for each other. */
  const rows = collectRows(
    'push',
    frames.map((frame) => ({
      ...frame,
      garments: ids.map((garmentId) => ({ ...frame.garments[0]!, garmentId })),
      garmentTimes: [0, 0],
      work: {
        ...frame.work,
        garments: ids.map((garmentId) => ({ ...frame.work.garments[0]!, garmentId, waitsFor: [] })),
      },
    })),
    new Map(),
  );
  const rest = { switchTo: null, faults: [] };

  it('tell what one core has to do beside what several take, and a crowd counts that', () => {
    const [one, two] = [REFERENCE_PRICING, { ...REFERENCE_PRICING, cores: 2 }].map((pricing) =>
      summariseBand([priceRows(rows, pricing)], pricing, rest),
    );
    expect(one!.work).equal(one!.cost.mean);
    expect(two!.work).closeTo(one!.work!, 1e-6);
    const [garment] = two!.garments;
    expect(two!.cost.mean).closeTo(two!.work! - garment!.cost.mean, 1e-6);
    const who = { id: 'a', name: 'A', height: 1.7 };
    expect(createMember(who, [{ from: 0 }], [two!]).bands[0]!.cost).equal(two!.work);
    // Of before that was told.
    const { work: _, ...before } = one!;
    expect(createMember(who, [{ from: 0 }], [before]).bands[0]!.cost).equal(one!.cost.mean);
  });
});
