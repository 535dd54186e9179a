import { expect } from 'chai';
import { getShapeDefinition } from '../core/bodies/index.ts';
import { measureFitFigures, measureSetReach, type SetFit } from '../core/body-figures/index.ts';
import {
  type AuthoredDocument,
  type BodyFollows,
  getScene,
  listFollowingBodies,
  listRecords,
  SCENE_ID,
} from '../core/document/index.ts';
import { transformPoint } from '../core/math/index.ts';
import type { Character } from '../core/rig/index.ts';
import { setUpRun } from '../core/run/index.ts';
import { type BodySkin, gatherBodySkin } from '../core/suggest/index.ts';
import {
  createFerryPilot,
  createLamplighter,
  createLamplighterDocument,
  createPilotDocument,
} from './index.ts';

function fitSet(document: AuthoredDocument, character: Character): SetFit & { skin: BodySkin } {
  const setup = setUpRun(document, character);
  const bodySetId = listRecords(document, 'bodySet')[0]!.id;
  const skin = gatherBodySkin(setup, []);
  const reach = measureSetReach(document, skin, setup.garments, bodySetId);
  return { ...measureFitFigures(document, { bodySetId, skin, base: setup.base, reach }), skin };
}

describe('the bodies of the demo', function () {
  this.timeout(120_000);
  let pilot: Character;
  before(async () => {
    pilot = await createFerryPilot();
  });

  it('cover hips, waist and chest of the pilot, and stand out little', () => {
    const { bind, joints } = fitSet(createPilotDocument(pilot), pilot);
    expect(bind.coverage).above(0.92);
    // Hips and legs keep a margin of 10 mm.
    expect(bind.overhang).below(0.021);
    for (const [name, least] of [
      ['hips', 0.92],
      ['waist', 0.92],
      ['chest', 0.84],
    ] as const) {
      const own = joints.find((joint) => joint.name === name)!.fit.bind;
      expect(own.coverage, name).above(least);
      expect(own.overhang, name).below(0.021);
    }
  });

  it('are as far from the skin as places all over them say, within a millimetre', () => {
    const document = createPilotDocument(pilot);
    const { values, skin } = fitSet(document, pilot);
    const bodySetId = listRecords(document, 'bodySet')[0]!.id;
    const bodies = listFollowingBodies(document, bodySetId, { base: pilot, shaped: pilot });
    const { matrices } = skin.poses[0]!;
    // Balls along each axis, as many as are less than a millimetre apart in effect.
    const balls: number[] = [];
    const place = new Float64Array(3);
    for (const { shape, margin, jointName } of bodies) {
      const met = getShapeDefinition(shape).toMet(shape);
      if (!('radiusA' in met)) throw new Error('The set has round bodies only.');
      const node = pilot.skeleton.names.indexOf(jointName);
      for (let i = 0; i <= 200; i++) {
        const t = i / 200;
        const [x, y, z] = met.a.map((value, k) => value + t * (met.b[k]! - value)) as [
          number,
          number,
          number,
        ];
        transformPoint(place, 0, matrices, 16 * node, x, y, z);
        balls.push(...place, met.radiusA + t * (met.radiusB - met.radiusA) + margin);
      }
    }
    let compared = 0;
    for (let p = 0; p < values.bind.length; p += 7) {
      const value = values.bind[p]!;
      if (Number.isNaN(value) || value > 0.045) continue;
      let least = Number.POSITIVE_INFINITY;
      for (let b = 0; b < balls.length; b += 4) {
        const away = Math.hypot(
          balls[b]! - skin.positions[3 * p]!,
          balls[b + 1]! - skin.positions[3 * p + 1]!,
          balls[b + 2]! - skin.positions[3 * p + 2]!,
        );
        least = Math.min(least, away - balls[b + 3]!);
      }
      expect(value).closeTo(least, 0.001);
      compared++;
    }
    expect(compared).above(500);
  });

  it('follow the Lamplighter into another shape, where they would lie far inside the skin', async () => {
    const character = await createLamplighter(pilot);
    const document = createLamplighterDocument(character);
    const set = listRecords(document, 'bodySet')[0]!;
    const inShape = (value: number, follows: BodyFollows): SetFit['bind'] => {
      document.records.set(SCENE_ID, { ...getScene(document), morphs: { broad: value } });
      document.records.set(set.id, { ...set, follows });
      return fitSet(document, character).bind;
    };
    const plain = inShape(0, 'skin');
    const moved = inShape(1, 'skin');
    expect(moved.coverage).above(plain.coverage - 0.05);
    expect(moved.overhang).below(plain.overhang + 0.003);
    expect(inShape(1, 'nothing').coverage).below(0.4);
    expect(inShape(1, 'fit').coverage).above(plain.coverage - 0.05);
  });
});
