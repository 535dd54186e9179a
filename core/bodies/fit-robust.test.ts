import { expect } from 'chai';
import {
  addScaled,
  createRandom,
  cross,
  distanceBetween,
  type MutableVector3,
  normalise,
  pickAcross,
} from '../math/index.ts';
import { fitTaperedCapsule } from './fit-tapered-capsule.ts';

type Outliers = 'anywhere' | 'another limb';

/** Places on a tapered capsule, even over its area but for a gap in its side, blurred by 2 mm; a fifth of them are of something else. */
function createSkin(random: () => number, outliers: Outliers) {
  const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const direction = (): MutableVector3 => normalise([normal(), normal(), normal()]);
  const length = 0.2 + 0.4 * random();
  const radiusA = 0.04 + 0.08 * random();
  const radiusB = Math.max(0.03, radiusA * (0.5 + 0.7 * random()));
  const axis = direction();
  const a: MutableVector3 = [random(), random(), random()];
  const b = addScaled(a, axis, length);
  const across = pickAcross(axis);
  const other = cross(axis, across);
  const sine = (radiusA - radiusB) / length;
  const cosine = Math.sqrt(1 - sine * sine);
  const [gapAngle, gapFrom] = [2 * Math.PI * random(), 0.6 * random()];
  const count = 600;
  const points: number[] = [];
  while (points.length < 3 * 0.8 * count) {
    const along = -radiusA + random() * (length + radiusA + radiusB);
    const angle = 2 * Math.PI * random();
    const share = (along + radiusA) / (length + radiusA + radiusB);
    const turn = Math.abs(angle - gapAngle);
    if (Math.min(turn, 2 * Math.PI - turn) < 0.7 && share > gapFrom && share < gapFrom + 0.4) continue;
    const [low, high] = [radiusA * sine, length + radiusB * sine];
    const radius =
      along < low
        ? Math.sqrt(Math.max(0, radiusA ** 2 - along ** 2))
        : along > high
          ? Math.sqrt(Math.max(0, radiusB ** 2 - (along - length) ** 2))
          : cosine * (radiusA + ((along - low) / (high - low)) * (radiusB - radiusA));
    const out = addScaled(addScaled(a, axis, along), across, radius * Math.cos(angle));
    points.push(...addScaled(out, other, radius * Math.sin(angle)).map((value) => value + 0.002 * normal()));
  }
  const middle = addScaled(a, axis, length / 2);
  const beside = addScaled(middle, across, 1.6 * radiusA);
  while (points.length < 3 * count) {
    if (outliers === 'anywhere') {
      for (const value of middle) points.push(value + (random() - 0.5) * 1.5 * (length + radiusA + radiusB));
    } else {
      const at = addScaled(beside, other, 0.3 * random());
      points.push(...at.map((value) => value + 0.03 * normal()));
    }
  }
  const from = addScaled(addScaled(a, axis, 0.05 * length), direction(), 0.01);
  const to = addScaled(addScaled(b, axis, -0.1 * length), direction(), 0.01);
  return { points: Float32Array.from(points), a, b, radiusA, radiusB, length, from, to };
}

describe('a tapered capsule fitted to skin with noise, a gap, and a fifth of it of something else', () => {
  for (const outliers of ['anywhere', 'another limb'] as const) {
    it(`has its ends and radii within 5 %, 50 of 50: ${outliers}`, () => {
      const random = createRandom(7);
      for (let i = 0; i < 50; i++) {
        const skin = createSkin(random, outliers);
        const fit = fitTaperedCapsule(skin.points, skin.from, skin.to, { margin: 0 })!;
        expect(distanceBetween(fit.a, skin.a) / skin.length, `start of ${i}`).below(0.05);
        expect(distanceBetween(fit.b, skin.b) / skin.length, `end of ${i}`).below(0.05);
        expect(fit.radiusA / skin.radiusA, `radius of ${i}`).within(0.95, 1.05);
        expect(fit.radiusB / skin.radiusB, `radius of ${i}`).within(0.95, 1.05);
      }
    });
  }
});
