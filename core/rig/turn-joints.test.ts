import { expect } from 'chai';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import { bindSection, listMorphNames, Pose, poseSection, shapeCharacter, turnJoints } from './index.ts';

describe('joints turned by hand', () => {
  const character = createWardrobe();

  it('carry what hangs below them, about their own place, in bind pose too', () => {
    const pose = new Pose(character);
    pose.setBind();
    const before = pose.worldMatrices.slice();
    // The knee, a quarter turn about its own x.
    turnJoints(pose, [{ node: 1, angles: [Math.PI / 2, 0, 0] }]);
    const at = (m: Float64Array, node: number): number[] => [...m.subarray(16 * node + 12, 16 * node + 15)];
    expect(at(pose.worldMatrices, 1)).deep.equal(at(before, 1));
    expect([...pose.worldMatrices.subarray(0, 16)]).deep.equal([...before.subarray(0, 16)]);
    // Own y becomes what own z was.
    for (let k = 0; k < 3; k++) expect(pose.worldMatrices[16 + 4 + k]).closeTo(before[16 + 8 + k]!, 1e-9);
    const [still, turned] = [bindSection(character, 0), poseSection(character, 0, pose)];
    let moved = 0;
    for (let v = 0; v < still.length; v += 3) {
      const displacement = Math.hypot(...[0, 1, 2].map((k) => still[v + k]! - turned[v + k]!));
      if (still[v + 1]! > -0.001) expect(displacement).below(1e-5);
      if (displacement > 0.05) moved++;
    }
    expect(moved).above(300);
  });

  it('of a chain add up: the lower one turns about axes that the upper one turned', () => {
    const both = new Pose(character);
    both.setBind();
    turnJoints(both, [
      { node: 0, angles: [0, 0.7, 0] },
      { node: 1, angles: [0.4, 0, 0] },
    ]);
    const other = new Pose(character);
    other.setBind();
    turnJoints(other, [
      { node: 1, angles: [0.4, 0, 0] },
      { node: 0, angles: [0, 0.7, 0] },
    ]);
    for (let i = 0; i < 32; i++) expect(both.worldMatrices[i]).closeTo(other.worldMatrices[i]!, 1e-9);
    const back = new Pose(character);
    back.setBind();
    turnJoints(back, []);
    const plain = new Pose(character);
    plain.setBind();
    expect(back.worldMatrices).deep.equal(plain.worldMatrices);
  });
});

describe('a shape of the body', () => {
  const character = createWardrobe();
  const leg = character.sections[0]!;
  const wide = leg.positions.map((value, i) => (i % 3 === 0 ? 0.5 * value : 0));
  const morphs = [{ name: 'wide', positions: wide, normals: null }];
  const shapely = {
    ...character,
    sections: [{ ...leg, morphs, morphWeights: Float32Array.of(0) }, character.sections[1]!],
  };

  it('sets targets by name and shares the rest; nothing differs, nothing is made', () => {
    expect(listMorphNames(shapely)).deep.equal(['wide']);
    expect(shapeCharacter(shapely, {})).equal(shapely);
    expect(shapeCharacter(shapely, { wide: 0, unknown: 1 })).equal(shapely);
    const shaped = shapeCharacter(shapely, { wide: 1 });
    expect(shaped.sections[1]).equal(shapely.sections[1]);
    expect([...shaped.sections[0]!.morphWeights]).deep.equal([1]);
    const [was, is] = [bindSection(shapely, 0), bindSection(shaped, 0)];
    // Own x is world z.
    for (let v = 0; v < was.length; v += 3) expect(is[v + 2]).closeTo(1.5 * was[v + 2]!, 1e-5);
  });
});
