import { expect } from 'chai';
import type { RoundShape } from '../bodies/index.ts';
import type { Character } from '../rig/index.ts';
import { BODY_DEFAULTS, type BodyRecord, createDocument, mirrorBodies, type RecordId } from './index.ts';

/** Hips in the middle of a figure that stands at x = 2, turned so that its side is along Z. */
function createHips(): Character {
  const quarter = Math.SQRT1_2;
  return {
    skeleton: {
      names: ['hips', 'leg_l', 'leg_r'],
      parents: Int32Array.of(-1, 0, 0),
      translations: Float64Array.of(2, 1, 0, 0.1, -0.1, 0, -0.1, -0.1, 0),
      // A quarter turn about Y of the hips: their X is the world's -Z.
      rotations: Float64Array.of(0, quarter, 0, quarter, 0, 0, 0, 1, 0, 0, 0, 1),
      scales: new Float64Array(9).fill(1),
    },
    sections: [],
    skins: [],
    clips: [],
  } as unknown as Character;
}

const body = (id: string, jointName: string, x: number, more: Partial<BodyRecord> = {}): BodyRecord => ({
  type: 'body',
  id: id as RecordId,
  bodySetId: 'set' as RecordId,
  name: jointName,
  jointName,
  shape: { kind: 'capsule', a: [x, 0, 0.02], b: [x, -0.3, 0.02], radiusA: 0.08, radiusB: 0.08 },
  ...BODY_DEFAULTS,
  ...more,
});

describe('bodies mirrored to the other side', () => {
  const mirror = (bodies: readonly BodyRecord[], chosen: readonly BodyRecord[]) => {
    const document = createDocument();
    for (const each of bodies) document.records.set(each.id, each);
    return mirrorBodies(document, createHips(), chosen, () => 'new' as RecordId);
  };
  const xOf = ({ shape }: BodyRecord): number => (shape as RoundShape).a[0];

  it('go to the joint of the other name, about the plane of the figure, wherever that stands', () => {
    const left = body('l', 'leg_l', 0.03, { margin: 0.01, group: 4 });
    const [made] = mirror([left], [left]);
    expect(made).deep.include({ isNew: true });
    expect(made!.to).deep.include({ jointName: 'leg_r', name: 'leg_r', margin: 0.01, group: 4 });
    expect(xOf(made!.to)).closeTo(-0.03, 1e-6);
    expect((made!.to.shape as RoundShape).a[2]).closeTo(0.02, 1e-6);
  });

  it('make the one that is there alike, though it is elsewhere, and keep its name', () => {
    const left = body('l', 'leg_l', 0.03);
    const right = body('r', 'leg_r', 0.5, { name: 'right thigh' });
    const [made] = mirror([left, right], [left]);
    expect(made!.isNew).equal(false);
    expect(made!.to).deep.include({ id: 'r', name: 'right thigh' });
    expect(xOf(made!.to)).closeTo(-0.03, 1e-6);
  });

  it('of a joint in the middle find their counterpart there, or make one; one on the plane is its own', () => {
    const [one, two, middle] = [body('1', 'hips', 0.07), body('2', 'hips', -0.06), body('m', 'hips', 0)];
    const [made] = mirror([one, two, middle], [one]);
    expect(made).deep.include({ isNew: false });
    expect(made!.to.id).equal('2');
    expect(xOf(made!.to)).closeTo(-0.07, 1e-6);
    expect(mirror([one], [one])[0]!.isNew).equal(true);
    expect(mirror([middle], [middle])[0]!.to.id).equal('m');
  });
});
