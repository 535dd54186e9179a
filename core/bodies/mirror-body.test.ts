import { expect } from 'chai';
import { createTestCharacter } from '../cloth/test-cloth.ts';
import { createRandom, transformPoint } from '../math/index.ts';
import { type Character, Pose } from '../rig/index.ts';
import { mirrorBody } from './mirror-body.ts';
import type { RoundShape } from './shapes/round-shape.ts';

/** A trunk and two legs of points around their bones, each weighted to one joint; the skeleton is tilted joint by joint. */
function createFigure(): Character {
  const random = createRandom(11);
  const bones = [
    { name: 'hips', at: [0, 1, 0], to: [0, 0.9, 0], radius: 0.14 },
    { name: 'leg_l', at: [0.1, 0.9, 0], to: [0.12, 0.1, 0.05], radius: 0.08 },
    { name: 'leg_r', at: [-0.1, 0.9, 0], to: [-0.12, 0.1, 0.05], radius: 0.078 },
  ];
  const positions: number[] = [];
  const joints: number[] = [];
  bones.forEach(({ at, to, radius }, joint) => {
    for (let i = 0; i < 300; i++) {
      const [t, angle] = [random(), 2 * Math.PI * random()];
      const offset = [radius * Math.cos(angle), 0, radius * Math.sin(angle)];
      for (let k = 0; k < 3; k++) positions.push(at[k]! + t * (to[k]! - at[k]!) + offset[k]!);
      joints.push(joint, 0, 0, 0);
    }
  });
  const character = createTestCharacter(Float32Array.from(positions), new Uint32Array(0));
  const quarter = Math.SQRT1_2;
  character.skeleton = {
    names: bones.map(({ name }) => name),
    parents: Int32Array.of(-1, 0, 0),
    translations: Float64Array.of(0, 1, 0, 0.1, -0.1, 0, -0.1, -0.1, 0),
    rotations: Float64Array.of(0, 0, 0, 1, quarter, 0, 0, quarter, 0, quarter, 0, quarter),
    scales: new Float64Array(9).fill(1),
  };
  const pose = new Pose(character);
  const skin = character.skins[0]!;
  skin.joints = Uint32Array.of(0, 1, 2);
  skin.inverseBinds = new Float32Array(48);
  for (let j = 0; j < 3; j++) {
    // Rotations only turn, so the inverse is the transpose, moved.
    const m = pose.worldMatrices.subarray(16 * j, 16 * j + 16);
    for (let r = 0; r < 3; r++) {
      for (let c = 0; c < 3; c++) skin.inverseBinds[16 * j + 4 * c + r] = m[4 * r + c]!;
      skin.inverseBinds[16 * j + 12 + r] = -(
        m[4 * r]! * m[12]! +
        m[4 * r + 1]! * m[13]! +
        m[4 * r + 2]! * m[14]!
      );
    }
    skin.inverseBinds[16 * j + 15] = 1;
  }
  character.sections[0]!.jointIndices = Uint16Array.from(joints);
  return character;
}

describe('a mirrored body', () => {
  const character = createFigure();
  const pose = new Pose(character);
  pose.setBind();
  const left = {
    kind: 'taperedCapsule',
    node: 1,
    a: [0.01, 0.02, 0.1],
    b: [0.03, -0.01, 0.7],
    radiusA: 0.08,
    radiusB: 0.05,
  } as const satisfies { [Key in keyof RoundShape]: unknown } & { node: number };

  it('is exactly across in the world, on the joint of the other name, and comes back', () => {
    const right = mirrorBody(character, pose, left as never as RoundShape & { node: number })!;
    expect(right.node).equal(2);
    expect([right.radiusA, right.radiusB]).deep.equal([0.08, 0.05]);
    const ends = [left, right].map(({ node, a }) => {
      const place = new Float64Array(3);
      transformPoint(place, 0, pose.worldMatrices, 16 * node, a[0], a[1], a[2]);
      return place;
    });
    expect(ends[1]![0]).closeTo(-ends[0]![0]!, 1e-9);
    for (const k of [1, 2]) expect(ends[1]![k]).closeTo(ends[0]![k]!, 1e-9);
    const back = mirrorBody(character, pose, right)!;
    expect(back.node).equal(1);
    for (let k = 0; k < 3; k++) expect(back.a[k]).closeTo(left.a[k]!, 1e-9);
  });

  it('stays on a joint without a side, and goes by the names that it is told', () => {
    const middle = { ...left, node: 0 } as never as RoundShape & { node: number };
    expect(mirrorBody(character, pose, middle)!.node).equal(0);
    const moved = mirrorBody(character, pose, left as never as RoundShape & { node: number }, [
      ['west', 'east'],
    ])!;
    expect(moved.node).equal(1);
  });
});
