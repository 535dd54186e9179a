import { expect } from 'chai';
import { createTestCharacter } from '../../cloth/test-cloth.ts';
import { createRandom } from '../../math/index.ts';
import { SignedDistanceField, WindingNumber } from '../../mesh/index.ts';
import { createCube } from '../../mesh/test-surfaces.ts';
import type { Character } from '../../rig/index.ts';
import { Pose } from '../../rig/index.ts';
import { createBall } from '../test-scene.ts';
import { measureDepthAt } from './measure-depth.ts';
import { type Box, PosedSkin } from './posed-skin.ts';

const EVERYWHERE: Box = [-9, -9, -9, 9, 9, 9];
const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** A character whose body are meshes in places of their own, all on one joint. */
function createBody(...meshes: [Float32Array, Uint32Array][]): Character {
  const character = createTestCharacter(...meshes[0]!);
  meshes.slice(1).forEach(([positions, triangles], i) => {
    const { sections } = createTestCharacter(positions, triangles);
    character.sections.push({ ...sections[0]!, meshIndex: i + 1 });
  });
  return character;
}

function follow(
  skin: PosedSkin,
  character: Character,
  matrix: readonly number[] = IDENTITY,
  box = EVERYWHERE,
): void {
  skin.follow(
    new Pose(character),
    character.skins.map(() => Float32Array.from(matrix)),
    [box],
  );
}

function moveBall(radius: number, x: number): [Float32Array, Uint32Array] {
  const [positions, triangles] = createBall(radius);
  return [positions.map((value, i) => (i % 3 === 0 ? value + x : value)), triangles];
}

/** A cube of two triangles a side. */
function shrinkCube(half: number): [Float32Array, Uint32Array] {
  const { positions, triangles } = createCube();
  return [positions.map((value) => half * value), triangles];
}

/** Depth as a trial finds it. */
function measureDepth(skin: PosedSkin, place: readonly [number, number, number]): number {
  const near = skin.findNear(...place, -1);
  return measureDepthAt(skin, near < 0 ? skin.findFar(...place) : near, ...place);
}

describe('the posed skin', () => {
  for (const [name, mesh] of [
    ['a ball', createBall(0.2)],
    ['a cube of twelve triangles', shrinkCube(0.2)],
  ] as const)
    it(`tells how deep a place lies in ${name}, in any pose`, () => {
      const character = createBody([...mesh]);
      const skin = new PosedSkin(character, [0]);
      const random = createRandom(4);
      const turn = [0.8, 0.6, 0, 0, -0.6, 0.8, 0, 0, 0, 0, 1, 0, 0.3, -0.2, 1, 1];
      for (const matrix of [IDENTITY, turn]) {
        follow(skin, character, matrix);
        const posed = mesh[0].slice();
        for (let o = 0; o < posed.length; o += 3) {
          const [x, y, z] = mesh[0].subarray(o, o + 3) as unknown as [number, number, number];
          for (let k = 0; k < 3; k++)
            posed[o + k] = matrix[k]! * x + matrix[4 + k]! * y + matrix[8 + k]! * z + matrix[12 + k]!;
        }
        const field = new SignedDistanceField(posed, mesh[1]);
        for (let i = 0; i < 400; i++) {
          const place = [0, 1, 2].map((k) => matrix[12 + k]! + 0.6 * random() - 0.3) as [
            number,
            number,
            number,
          ];
          const exact = -field.measure(...place)!.distance;
          // Far outside, the triangles around the nearest point need not have the nearest of all.
          expect(measureDepth(skin, place)).closeTo(exact, exact > -0.025 ? 0.002 : 0.01);
        }
      }
    });

  it('has no skin where parts of the body lie within one another, and tells inside from outside there', () => {
    const meshes = [moveBall(0.2, 0), moveBall(0.15, 0.25)] as const;
    const character = createBody(...meshes);
    const skin = new PosedSkin(character, [0, 1]);
    follow(skin, character);
    const { isBuried, pointCount } = skin.model;
    for (let p = 0; p < pointCount; p++) {
      const [x, y, z] = skin.positions.subarray(3 * p, 3 * p + 3) as unknown as [number, number, number];
      const depth = Math.max(0.2 - Math.hypot(x, y, z), 0.15 - Math.hypot(x - 0.25, y, z));
      if (depth > 0.004) expect(isBuried[p]).equal(1);
      if (depth < 0.001) expect(isBuried[p]).equal(0);
    }
    const winding = meshes.map((mesh) => new WindingNumber(...mesh));
    const random = createRandom(9);
    let wrong = 0;
    for (let i = 0; i < 1000; i++) {
      const place = [0.7 * random() - 0.25, 0.4 * random() - 0.2, 0.4 * random() - 0.2] as [
        number,
        number,
        number,
      ];
      const isInside = winding.some((one) => one.measure(...place) > 0.5);
      if (measureDepth(skin, place) > 0 !== isInside) wrong++;
    }
    expect(wrong).at.most(5);
  });

  it('skins only what comes near, and the same as everything', () => {
    const character = createBody(createBall(0.2), moveBall(0.15, 0.8));
    const [all, some] = [new PosedSkin(character, [0, 1]), new PosedSkin(character, [0, 1])];
    const box: Box = [0.9, -0.05, -0.05, 1, 0.05, 0.05];
    follow(all, character);
    follow(some, character, IDENTITY, box);
    const [most, few] = [all, some].map((skin) => skin.grid.count);
    expect(few).within(20, 0.3 * most!);
    for (const place of [
      [0.95, 0.01, 0],
      [0.9, 0, 0.04],
      [0.8, 0, 0],
    ] as const)
      expect(measureDepth(some, place)).closeTo(measureDepth(all, place), 1e-6);
    // Asked for what is far, it finds it all the same.
    expect(measureDepth(some, [0, 0.15, 0])).closeTo(0.05, 0.003);
  });

  it('of a character without a body has nothing', () => {
    const character = createBody(createBall(0.2));
    const skin = new PosedSkin(character, []);
    expect(skin.isEmpty).equal(true);
  });
});
