import { expect } from 'chai';
import { mat4, quat } from 'gl-matrix';
import { createTestCharacter } from '../cloth/test-cloth.ts';
import { invertAffine, multiplyMatrices } from '../math/index.ts';
import type { Character, Clip } from './character.ts';
import { computeClipTravel } from './clip-travel.ts';
import { mirrorName } from './mirror-name.ts';
import { packCharacter, unpackCharacter } from './pack-character.ts';
import { Pose } from './pose.ts';
import { bindSection, poseSection } from './pose-section.ts';

/** A bent arm of three joints under a scaled and turned armature, with its skin bound there. */
function createArm(): Character {
  const triangle = Float32Array.of(0, 0, 0, 40, 120, 3, -20, 260, 8);
  const character = createTestCharacter(triangle, Uint32Array.of(0, 1, 2));
  const turn = quat.fromEuler(quat.create(), -90, 20, 0);
  character.skeleton = {
    names: ['armature', 'upper', 'lower', 'mesh'],
    parents: Int32Array.of(-1, 0, 1, 2),
    translations: Float64Array.of(0.3, 1, -0.2, 0, 0, 0, 0, 130, 0, 5, 5, 5),
    rotations: Float64Array.of(...turn, 0, 0, 0, 1, ...quat.fromEuler(quat.create(), 25, 10, 5), 0, 0, 0, 1),
    scales: Float64Array.of(0.01, 0.01, 0.01, 1, 1, 1, 1, 1, 1, 1, 1, 1),
  };
  const section = character.sections[0]!;
  section.node = 3;
  section.isRigid = false;
  section.jointIndices = Uint16Array.of(0, 0, 0, 0, 0, 1, 0, 0, 1, 0, 0, 0);
  section.jointWeights = Float32Array.of(1, 0, 0, 0, 0.5, 0.5, 0, 0, 1, 0, 0, 0);
  const skin = character.skins[0]!;
  skin.joints = Uint32Array.of(1, 2);
  skin.inverseBinds = new Float32Array(32);
  // Bound with the lower joint straight, 130 above the upper one: another pose than the nodes stand in.
  for (const [j, y] of [
    [0, 0],
    [1, 130],
  ] as const) {
    skin.inverseBinds.set(mat4.fromTranslation(mat4.create(), [0, -y, 0]), 16 * j);
  }
  return character;
}

describe('poses', () => {
  it('bind pose puts every vertex where it was modelled, moved by the armature as a whole', () => {
    const character = createArm();
    const bound = bindSection(character, 0);
    const armature = mat4.fromRotationTranslationScale(
      mat4.create(),
      [...character.skeleton.rotations.subarray(0, 4)] as unknown as quat,
      [0.3, 1, -0.2],
      [0.01, 0.01, 0.01],
    );
    for (let v = 0; v < 3; v++) {
      const [x, y, z] = character.sections[0]!.positions.subarray(3 * v, 3 * v + 3) as unknown as [
        number,
        number,
        number,
      ];
      for (let k = 0; k < 3; k++) {
        const expected = armature[k]! * x + armature[4 + k]! * y + armature[8 + k]! * z + armature[12 + k]!;
        expect(bound[3 * v + k]).closeTo(expected, 1e-5);
      }
    }
  });

  it('blends vertices linearly between their joints', () => {
    const character = createArm();
    const pose = new Pose(character);
    const posed = poseSection(character, 0, pose);
    // The middle vertex is half on each joint: the mean of what either alone would give.
    const alone = [0, 1].map((joint) => {
      const section = character.sections[0]!;
      const single = {
        ...section,
        jointIndices: new Uint16Array(12).fill(joint),
        jointWeights: Float32Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0),
      };
      return poseSection({ ...character, sections: [single] }, 0, pose);
    });
    for (let k = 3; k < 6; k++) expect(posed[k]).closeTo((alone[0]![k]! + alone[1]![k]!) / 2, 1e-5);
    expect(Math.hypot(...[3, 4, 5].map((k) => alone[0]![k]! - alone[1]![k]!))).above(0.1);
  });

  it('inverts affine matrices, and says when one is flat', () => {
    const m = mat4.fromRotationTranslationScale(
      mat4.create(),
      quat.fromEuler(quat.create(), 10, 50, -70),
      [1, 2, 3],
      [2, 0.5, 3],
    );
    const inverse = new Float64Array(16);
    expect(invertAffine(inverse, 0, m, 0)).equal(true);
    const product = new Float64Array(16);
    multiplyMatrices(product, 0, m, 0, inverse, 0);
    for (let i = 0; i < 16; i++) expect(product[i]).closeTo(i % 5 === 0 ? 1 : 0, 1e-6);
    expect(invertAffine(inverse, 0, new Float64Array(16), 0)).equal(false);
  });
});

describe('characters as bytes', () => {
  it('come back the same', () => {
    const character = createArm();
    const back = unpackCharacter(packCharacter(character).buffer);
    expect(back).deep.equal(character);
  });

  it('of another version or kind are refused with a sentence', () => {
    const bytes = packCharacter(createArm());
    new DataView(bytes.buffer).setUint32(4, 99, true);
    expect(() => unpackCharacter(bytes.buffer)).throw('version 99');
    expect(() => unpackCharacter(new ArrayBuffer(4))).throw('Not a packed character');
  });
});

describe('clips that travel', () => {
  const clip = (values: number[]): Clip => ({
    name: 'walk',
    duration: 1,
    tracks: [
      {
        node: 1,
        path: 'translation',
        interpolation: 'LINEAR',
        times: Float32Array.of(0, 0.5, 1),
        values: Float32Array.from(values),
      },
    ],
  });

  it('are measured in the world, from first to last frame, heights left out', () => {
    const character = createArm();
    character.skeleton.rotations.set([0, 0, 0, 1], 0);
    const [x, z] = computeClipTravel(character, clip([0, 0, 0, 50, 20, 70, 30, 10, 120]));
    expect(x).closeTo(0.3, 1e-6);
    expect(z).closeTo(1.2, 1e-6);
    expect(computeClipTravel(character, clip([0, 0, 0, 90, 0, 0, 1, 0, 2]))).deep.equal([0, 0]);
  });
});

describe('names of the other side', () => {
  const pairs: [string, string | null][] = [
    ['leg_l', 'leg_r'],
    ['Hand.R', 'Hand.L'],
    ['finger_a_l', 'finger_a_r'],
    ['l_foot', 'r_foot'],
    ['thigh_l_01', 'thigh_r_01'],
    ['LeftArm', 'RightArm'],
    ['upper right arm', 'upper left arm'],
    ['spine', null],
    ['collar', null],
    ['heel', null],
  ];
  for (const [name, other] of pairs) it(`${name} → ${other}`, () => expect(mirrorName(name)).equal(other));
});
