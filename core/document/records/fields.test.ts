import { expect } from 'chai';
import { FABRIC_DEFAULTS, FABRIC_KEYS, FABRIC_PARAMETERS } from '../../cloth/index.ts';
import { GARMENT_DEFAULTS, MOST_LEVELS, PLAIN_LEVEL, recordField, SCENE_DEFAULTS } from './index.ts';

/** Whether the page may write a record. */
async function accepts(record: object): Promise<boolean> {
  return recordField.isValid(record, { strict: true });
}

const fabric = (change: object): object => ({
  type: 'fabric',
  id: 'f',
  name: 'Felt',
  settings: { ...FABRIC_DEFAULTS, ...change },
});
const garment = (change: object): object => ({
  type: 'garment',
  id: 'g',
  name: 'Coat',
  order: 0,
  sectionIndex: 0,
  sectionName: 'Coat',
  fabricId: 'f',
  bodySetId: 'b',
  ...GARMENT_DEFAULTS,
  ...change,
});

describe('what the page may write', () => {
  it('is every setting of a fabric at both ends of its range, and nothing beyond', async () => {
    for (const key of FABRIC_KEYS) {
      const [least, most] = FABRIC_PARAMETERS[key].range;
      expect(await accepts(fabric({ [key]: least })), `${key} least`).equal(true);
      expect(await accepts(fabric({ [key]: most })), `${key} most`).equal(true);
      expect(await accepts(fabric({ [key]: most + 1 })), `${key} beyond`).equal(false);
      expect(await accepts(fabric({ [key]: Number.NaN })), `${key} not a number`).equal(false);
      expect(await accepts(fabric({ [key]: undefined })), `${key} missing`).equal(false);
    }
    expect(await accepts(fabric({ stretchStiffness: 100 }))).equal(false);
  });

  it('has whole counts', async () => {
    for (const key of ['substepsPerSecond', 'iterations'])
      expect(await accepts(fabric({ [key]: 2.5 })), key).equal(false);
  });

  it('is a garment with its warp and blend, a scene with its wind', async () => {
    expect(await accepts(garment({}))).equal(true);
    for (const wrong of [{ blend: 1.1 }, { blend: -0.1 }, { warpTurn: 4 }, { warpTurn: undefined }]) {
      expect(await accepts(garment(wrong)), JSON.stringify(wrong)).equal(false);
    }
    expect(await accepts(SCENE_DEFAULTS)).equal(true);
    for (const wrong of [{ windGusts: 2 }, { windTurbulence: -1 }, { windSpeed: 51 }]) {
      expect(await accepts({ ...SCENE_DEFAULTS, ...wrong }), JSON.stringify(wrong)).equal(false);
    }
  });

  it('is a garment with up to eight levels of detail, each in its ranges, with nothing unknown', async () => {
    const level = { ...PLAIN_LEVEL, pixels: 300, edgeLength: 0.05, withoutBodies: ['b'] };
    expect(await accepts(garment({ levels: Array.from({ length: MOST_LEVELS }, () => level) }))).equal(true);
    for (const wrong of [
      Array.from({ length: MOST_LEVELS + 1 }, () => level),
      [{ ...level, pixels: 0 }],
      [{ ...level, pixels: Number.NaN }],
      [{ ...level, edgeLength: 0 }],
      [{ ...level, edgeLength: undefined }],
      [{ ...level, substepsPerSecond: 60.5 }],
      [{ ...level, rate: 'sometimes' }],
      [{ ...level, blend: 2 }],
      [{ ...level, withoutBodies: [''] }],
      [{ ...level, more: 1 }],
      [null],
      null,
    ])
      expect(await accepts(garment({ levels: wrong })), JSON.stringify(wrong)).equal(false);
    expect(await accepts({ ...SCENE_DEFAULTS, levelSwitchSeconds: 6 })).equal(false);
  });

  it('is a body mesh with its section, with a step or without, its margin and group in their ranges', async () => {
    const mesh = (change: object): object => ({
      type: 'bodyMesh',
      id: 'm',
      bodySetId: 'b',
      name: 'Skin',
      stepId: null,
      sectionIndex: 3,
      sectionName: 'Body mesh',
      margin: 0.1,
      group: 8,
      ...change,
    });
    for (const right of [{}, { stepId: 's' }, { margin: 0, group: 1 }])
      expect(await accepts(mesh(right)), JSON.stringify(right)).equal(true);
    for (const wrong of [
      { margin: 0.11 },
      { margin: -0.001 },
      { group: 9 },
      { group: 1.5 },
      { sectionIndex: -1 },
      { stepId: undefined },
      { stepId: '' },
      { jointName: 'hips' },
    ])
      expect(await accepts(mesh(wrong)), JSON.stringify(wrong)).equal(false);
  });

  it('is a step of preparation of a known kind, with its own settings in their ranges', async () => {
    const step = (act: object) => ({
      type: 'step',
      id: 'step',
      order: 0,
      sectionIndex: 1,
      sectionName: 'Coat',
      act,
    });
    for (const act of [
      { kind: 'weld' },
      { kind: 'evenOut', edgeLength: 0.03 },
      { kind: 'transferWeights', maxDistance: 0.05, maxAngle: 0.5, influences: 4 },
      { kind: 'handOverWeights', keptJoints: ['hips'], toJoint: 'chest' },
      { kind: 'cut', name: 'Flounce' },
      {
        kind: 'makeSimMesh',
        edgeLength: 0.03,
        borderDetail: 0.5,
        others: [{ sectionIndex: 2, sectionName: 'Badge' }],
      },
    ]) {
      expect(await accepts(step(act)), act.kind).equal(true);
    }
    for (const act of [
      { kind: 'melt' },
      {},
      { kind: 'weld', force: 1 },
      { kind: 'evenOut' },
      { kind: 'evenOut', edgeLength: 0 },
      { kind: 'transferWeights', maxDistance: 0.05, maxAngle: 9, influences: 4 },
      { kind: 'limitWeights', influences: 2.5, least: 0 },
      { kind: 'makeSimMesh', edgeLength: 0.03, borderDetail: 2, others: [] },
      { kind: 'makeSimMesh', edgeLength: 0.03, borderDetail: 1, others: [{ sectionIndex: 2 }] },
    ]) {
      expect(await accepts(step(act)), JSON.stringify(act)).equal(false);
    }
  });
});
