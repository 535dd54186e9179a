import { expect } from 'chai';
import type { RecordId } from '../document/index.ts';
import { toFrames } from './case-frames.ts';
import { collectRows, findWorstFrame } from './case-rows.ts';
import { MEASURE_KEYS } from './measures.ts';
import { packTrial, unpackTrial } from './pack-trial.ts';
import { createScene } from './test-scene.ts';

describe('frames of a trial that was kept', () => {
  const { frames } = createScene({});
  const rows = collectRows('push', frames, new Map([['id-1' as RecordId, 'Sheet']]));

  it('say what was measured, frame by frame, with what is not known left open', () => {
    const again = toFrames(rows);
    expect(again.length).equal(frames.length);
    for (const [i, frame] of frames.entries()) {
      expect(again[i]!.time).equal(Math.fround(frame.time));
      for (const key of MEASURE_KEYS) {
        const value = frame[key];
        expect(again[i]![key], key).equal(value === null ? null : Math.fround(value));
        const own = frame.garments[0]![key];
        expect(again[i]!.garments[0]![key], key).equal(own === null ? null : Math.fround(own));
      }
    }
    expect(again.at(-1)!.jitter).equal(null);
  });

  it('know the places of the worst frames', () => {
    const again = toFrames(rows);
    const worst = findWorstFrame(rows.garments[0]!.rows.penetration);
    expect(again[worst]!.garments[0]!.places.penetration).deep.equal(
      frames[worst]!.garments[0]!.places.penetration,
    );
    const places = again.flatMap(({ garments }) => Object.keys(garments[0]!.places));
    expect(places.filter((key) => key === 'penetration').length).equal(1);
  });

  it('are near those that were measured when they come from a packed trial', () => {
    const [packed] = unpackTrial(packTrial([rows], 'measured'), packTrial([rows], 'machine'));
    const again = toFrames(packed!);
    const top = Math.max(...rows.whole.stretch);
    for (const [i, frame] of frames.entries())
      expect(Math.abs(again[i]!.stretch - frame.stretch)).most(top / 65_000);
  });
});
