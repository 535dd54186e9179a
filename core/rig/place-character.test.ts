import { expect } from 'chai';
import fc from 'fast-check';
import { quat, vec3 } from 'gl-matrix';
import { readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import {
  AS_IN_FILE,
  type Character,
  getPlacementTurn,
  measureFigure,
  placeCharacter,
  UP_AXES,
} from './index.ts';
import { hangBelowArmature } from './test-armature.ts';
import { listPositions } from './test-positions.ts';

describe('the placement of a character', () => {
  let strip: Character;

  before(async () => {
    strip = (await readCharacter([{ name: 'strip.glb', bytes: createStrip().toGlb() }])).character;
  });

  it('scales and turns everything as one, in every pose and wherever its root hangs', () => {
    const turned = hangBelowArmature(strip, 0.01, [0.5, 0.5, -0.5, 0.5]);
    fc.assert(
      fc.property(
        fc.constantFrom(strip, turned),
        fc.constantFrom(0.01, 0.0254, 1, 39.37, 100),
        fc.constantFrom(...UP_AXES),
        (character, scale, up) => {
          const [before, after] = [character, placeCharacter(character, { scale, up })].map(
            listPositions,
          ) as [Float32Array[], Float32Array[]];
          expect(before.length).equal(after.length).and.above(3);
          const turn = quat.fromValues(...getPlacementTurn({ up }));
          before.forEach((positions, k) => {
            const size = Math.max(...positions.map(Math.abs));
            for (let i = 0; i < positions.length; i += 3) {
              const place = vec3.fromValues(positions[i]!, positions[i + 1]!, positions[i + 2]!);
              vec3.scale(place, vec3.transformQuat(place, place, turn), scale);
              for (let k2 = 0; k2 < 3; k2++)
                expect(after[k]![i + k2]! - place[k2]!).closeTo(0, 4e-6 * scale * Math.max(1, size));
            }
          });
        },
      ),
    );
  });

  it('brings the named side up', () => {
    for (const up of UP_AXES) {
      const axis = 'XYZ'.indexOf(up[1]!);
      const side = vec3.create();
      side[axis] = up[0] === '+' ? 1 : -1;
      vec3.transformQuat(side, side, quat.fromValues(...getPlacementTurn({ up })));
      expect([...side].map((value) => Math.round(1e6 * value) / 1e6 + 0)).deep.equal([0, 1, 0]);
    }
  });

  it('is nothing for a file as the standard has it, and scales what is measured', () => {
    expect(placeCharacter(strip, AS_IN_FILE)).equal(strip);
    const [was, is] = [strip, placeCharacter(strip, { scale: 100, up: '+Y' })].map(
      (c) => measureFigure(c).height,
    );
    expect(is! / was!).closeTo(100, 1e-3);
  });
});
