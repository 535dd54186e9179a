import { expect } from 'chai';
import type { BodyShape } from '../bodies/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import { type Character, shapeCharacter } from '../rig/index.ts';
import { createDocument } from './document.ts';
import { listFollowingBodies, placeBodies } from './place-bodies.ts';
import { ALL_BODY_GROUPS, BODY_DEFAULTS, type BodyFollows, type RecordId } from './records/index.ts';

const SET = 'set' as RecordId;

/** The leg of the wardrobe with a body shape that makes it thicker by a share of its radius. */
function createStout(): Character {
  const character = createWardrobe();
  const [leg] = character.sections;
  const positions = leg!.positions.map((value, i) => (i % 3 === 1 ? 0 : 0.3 * value));
  character.sections[0] = {
    ...leg!,
    morphs: [{ name: 'stout', positions, normals: null }],
    morphWeights: new Float32Array(1),
  };
  return character;
}

/** As thick as the leg, which runs down from the hip. */
const LIMB: BodyShape = { kind: 'capsule', a: [0, -0.1, 0], b: [0, -0.6, 0], radiusA: 0.1, radiusB: 0.1 };

function follow(follows: BodyFollows, value: number, joints = ['hip']): BodyShape[] {
  const base = createStout();
  const document = createDocument();
  document.records.set(SET, { type: 'bodySet', id: SET, name: 'Main', follows });
  joints.forEach((jointName, i) => {
    const id = `body-${i}` as RecordId;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: SET,
      name: id,
      jointName,
      shape: LIMB,
      ...BODY_DEFAULTS,
    });
  });
  const shaped = shapeCharacter(base, { stout: value });
  return listFollowingBodies(document, SET, { base, shaped }).map(({ shape }) => shape);
}

const radiusOf = (shape: BodyShape): number => (shape.kind === 'capsule' ? shape.radiusA : Number.NaN);

describe('bodies in another body shape', () => {
  it('grow with the skin around them, by as much as the shape says', () => {
    const radii = [0, 0.5, 1].map((value) => radiusOf(follow('skin', value)[0]!));
    // The leg of 10 cm is 3 cm thicker at most.
    expect(radii[0]).equal(0.1);
    expect(radii[1]).closeTo(0.115, 1e-3);
    expect(radii[2]).closeTo(0.13, 1e-3);
  });

  it('are the very same in the plain shape, and when they stay', () => {
    expect(follow('skin', 0)[0]).equal(LIMB);
    expect(follow('nothing', 1)[0]).equal(LIMB);
  });

  it('are fitted anew where one has its joint alone; where several share one, they are moved', () => {
    const [alone] = follow('fit', 1);
    expect(alone).not.deep.equal(follow('skin', 1)[0]);
    expect(radiusOf(alone!)).above(0.115);
    expect(follow('fit', 1, ['hip', 'hip'])).deep.equal(follow('skin', 1, ['hip', 'hip']));
  });

  it('are so in what a garment meets, with who they are', () => {
    const base = createStout();
    const document = createDocument();
    document.records.set(SET, { type: 'bodySet', id: SET, name: 'Main', follows: 'skin' });
    const id = 'limb' as RecordId;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: SET,
      name: 'limb',
      jointName: 'hip',
      shape: LIMB,
      ...BODY_DEFAULTS,
    });
    const garment = { bodySetId: SET, bodyGroups: ALL_BODY_GROUPS };
    const [plain] = placeBodies(document, garment, { base, shaped: base });
    const [stout] = placeBodies(document, garment, { base, shaped: shapeCharacter(base, { stout: 1 }) });
    expect([plain!.id, stout!.id]).deep.equal(['limb', 'limb']);
    if (plain!.kind !== 'capsule' || stout!.kind !== 'capsule') throw new Error('They are another kind.');
    expect(stout!.radiusA).above(plain!.radiusA);
  });
});
