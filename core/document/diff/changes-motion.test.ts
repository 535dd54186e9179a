import { expect } from 'chai';
import { GARMENT_DEFAULTS, type GarmentRecord, type RecordId, SCENE_DEFAULTS } from '../records/index.ts';
import { changesMotion, tellMotion } from './changes-motion.ts';
import { createDiff, type DocumentDiff } from './document-diff.ts';

describe('whether a change moves anything', () => {
  const garment: GarmentRecord = {
    ...GARMENT_DEFAULTS,
    type: 'garment',
    id: 'g' as RecordId,
    name: 'Poncho',
    order: 0,
    sectionIndex: 0,
    sectionName: 'poncho',
    fabricId: 'f' as RecordId,
    bodySetId: 'b' as RecordId,
  };
  const differ = (before: GarmentRecord | null, after: GarmentRecord | null): DocumentDiff => {
    const diff = createDiff();
    diff.records.set('g' as RecordId, [before, after]);
    return diff;
  };

  it('does not for names and limits', () => {
    expect(changesMotion(createDiff())).equal(false);
    const renamed = { ...garment, name: 'Cape', trialLimits: { jitter: null } };
    expect(changesMotion(differ(garment, renamed))).equal(false);
    const diff = createDiff();
    diff.records.set(SCENE_DEFAULTS.id, [SCENE_DEFAULTS, { ...SCENE_DEFAULTS, budgetMilliseconds: 2 }]);
    expect(changesMotion(diff)).equal(false);
  });

  it('does not by a field that documents of before lack, until it says something', () => {
    const { clearOf: _, ...before } = garment;
    expect(tellMotion(garment)).equal(tellMotion(before as GarmentRecord));
    const clear = { ...garment, clearOf: ['other' as RecordId] };
    expect(changesMotion(differ(garment, clear))).equal(true);
  });

  it('does for all else, and when something comes or goes', () => {
    expect(changesMotion(differ(garment, { ...garment, name: 'Cape', blend: 0.5 }))).equal(true);
    expect(changesMotion(differ(null, garment))).equal(true);
    expect(changesMotion(differ(garment, null))).equal(true);
    const diff = createDiff();
    diff.records.set(SCENE_DEFAULTS.id, [SCENE_DEFAULTS, { ...SCENE_DEFAULTS, windSpeed: 3 }]);
    expect(changesMotion(diff)).equal(true);
    const painted = createDiff();
    painted.arrays.set('m' as RecordId, {
      indices: Uint32Array.of(1),
      before: Float32Array.of(0),
      after: Float32Array.of(1),
    });
    expect(changesMotion(painted)).equal(true);
  });
});
