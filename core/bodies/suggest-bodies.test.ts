import { expect } from 'chai';
import { createTestCharacter } from '../cloth/test-cloth.ts';
import { createRandom } from '../math/index.ts';
import { type Character, Pose } from '../rig/index.ts';
import { mirrorBody } from './mirror-body.ts';
import { suggestBodies } from './suggest-bodies.ts';

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

describe('suggested bodies', () => {
  const character = createFigure();
  const suggest = (options: Partial<Parameters<typeof suggestBodies>[1]> = {}) =>
    suggestBodies(character, { sections: [0], margin: 0, ...options });

  it("fit each joint with skin, in the joint's own turned space", () => {
    const bodies = suggest();
    expect(bodies.map(({ name }) => name)).deep.equal(['hips', 'leg_l', 'leg_r']);
    const leg = bodies[1]!;
    expect(leg.radiusA).within(0.07, 0.09);
    expect(Math.hypot(...leg.a.map((v, k) => v - leg.b[k]!))).within(0.55, 0.95);
    expect(leg.coverage).above(0.9);
    // The leg hangs 0.8 m down; its joint is turned a quarter about X, so that down is +Z there.
    expect(Math.max(leg.a[2], leg.b[2])).above(0.5);
    expect(Math.max(...[leg.a, leg.b].map((end) => Math.abs(end[1])))).below(0.1);
  });

  it('make the two sides alike, exactly mirrored in the world', () => {
    const [, left, right] = suggest();
    expect(right!.radiusA).closeTo(left!.radiusA, 1e-12);
    const pose = new Pose(character);
    pose.setBind();
    const back = mirrorBody(character, pose, right!)!;
    expect(back.node).equal(1);
    for (let k = 0; k < 3; k++) expect(back.a[k]).closeTo(left!.a[k]!, 1e-6);
    // A joint without a side keeps it.
    expect(mirrorBody(character, pose, suggest()[0]!)!.node).equal(0);
  });

  it('leave out what cannot be reached, and the smallest beyond the number asked for', () => {
    const above = Float32Array.of(-1, 0.95, -1, 1, 1.2, 1);
    expect(suggest({ reachable: above }).map(({ name }) => name)).deep.equal(['hips']);
    expect(suggest({ most: 2 })).length(2);
    expect(suggest({ margin: 0.02 })[1]!.radiusA - suggest()[1]!.radiusA).closeTo(0.02, 1e-6);
  });
});
