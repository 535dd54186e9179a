import { expect } from 'chai';
import { getScene, listGarments, type RecordId, SCENE_ID } from '../document/index.ts';
import { collectRows } from './case-rows.ts';
import { judgeRows } from './judge-rows.ts';
import { resolveAllLimits, resolveLimits } from './limits.ts';
import { getMeasure } from './measures.ts';
import { createFrame } from './test-frame.ts';
import { createScene } from './test-scene.ts';

const [poncho, sash] = ['poncho', 'sash'] as [RecordId, RecordId];

describe('limits of trials', () => {
  it('are a garment’s own, else the character’s, else the project’s, else those to begin with; and may be none', () => {
    const { document } = createScene({});
    const [garment] = listGarments(document);
    const start = getMeasure('penetration').limit;
    expect(resolveAllLimits(document).get(garment!.id)!.penetration).equal(start);
    document.projectLimits = { penetration: 0.006, stretch: 0.07 };
    expect(resolveAllLimits(document).get(garment!.id)).include({ penetration: 0.006, stretch: 0.07 });
    document.records.set(SCENE_ID, {
      ...getScene(document),
      trialLimits: { penetration: 0.004, jitter: null },
    });
    expect(resolveAllLimits(document).get(garment!.id)).include({ penetration: 0.004, jitter: null });
    document.records.set(garment!.id, { ...garment!, trialLimits: { penetration: 0.02 } });
    expect(resolveAllLimits(document).get(garment!.id)).include({ penetration: 0.02, jitter: null });
    expect(resolveAllLimits(document).get(garment!.id)!.stretch).equal(0.07);
    expect(resolveAllLimits(document).get(garment!.id)!.layers).equal(getMeasure('layers').limit);
  });

  it('are broken by the worst frame of each garment, told worst first', () => {
    const frames = [0.1, 0.2, 0.3].map((time, i) =>
      createFrame(time, [
        { garmentId: poncho, penetration: 0.002 * i, stretch: 0.1 },
        { garmentId: sash, penetration: 0.03 - 0.01 * i, stretch: 0.5 },
      ]),
    );
    const rows = collectRows('walk', frames, new Map([[sash, 'Sash']]));
    const limits = new Map([
      [poncho, resolveLimits({ penetration: 0.004 })],
      [sash, resolveLimits({ penetration: 0.02, stretch: 0.1 })],
    ]);
    const breaches = judgeRows(rows, limits);
    expect(breaches.map(({ measure, garmentName }) => [garmentName, measure])).deep.equal([
      ['Sash', 'stretch'],
      ['Sash', 'penetration'],
    ]);
    expect(breaches[1]!.time).closeTo(0.1, 1e-6);
    expect(breaches[1]!.value).closeTo(0.03, 1e-8);
    // At the limit is within it.
    expect(judgeRows(rows, new Map([[poncho, resolveLimits({ penetration: 0.004001 })]]))).deep.equal([]);
    expect(
      judgeRows(rows, new Map([[sash, resolveLimits({ penetration: null, stretch: null })]])),
    ).deep.equal([]);
  });
});
