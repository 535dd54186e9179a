import { expect } from 'chai';
import {
  addScaled,
  createRandom,
  dot,
  type MutableVector3,
  normalise,
  rotate,
  rotationFromAngles,
  subtract,
} from '../math/index.ts';
import { type BodyShape, getShapeDefinition } from './body-shape.ts';
import { moveWithSkin } from './move-with-skin.ts';

/** Places of skin 4 mm outside of a capsule from a to b, on its side and on its caps. */
function coat(a: MutableVector3, b: MutableVector3, radiusA: number, radiusB: number): Float32Array {
  const random = createRandom(3);
  const places: number[] = [];
  for (let i = 0; i < 600; i++) {
    const t = Math.min(1, Math.max(0, 1.3 * random() - 0.15));
    let u: MutableVector3 = [random() - 0.5, random() - 0.5, random() - 0.5];
    const axis = normalise(subtract(b, a));
    const along = dot(u, axis);
    // Around the side, and over the caps.
    if (t > 0 && t < 1) u = addScaled(u, axis, -along);
    else if (t === 0 ? along > 0 : along < 0) u = addScaled(u, axis, -2 * along);
    const length = Math.hypot(...u);
    const radius = radiusA + t * (radiusB - radiusA) + 0.004;
    for (let k = 0; k < 3; k++) places.push(a[k]! + t * (b[k]! - a[k]!) + (radius * u[k]!) / length);
  }
  return Float32Array.from(places);
}

const move = (places: Float32Array, act: (place: MutableVector3) => MutableVector3): Float32Array => {
  const moved: number[] = [];
  for (let i = 0; i < places.length; i += 3) moved.push(...act([places[i]!, places[i + 1]!, places[i + 2]!]));
  return Float32Array.from(moved);
};

const LIMB: BodyShape = {
  kind: 'taperedCapsule',
  a: [0, 0.1, 0.02],
  b: [0.05, -0.25, 0],
  radiusA: 0.09,
  radiusB: 0.06,
};

describe('a body that moves with the skin', () => {
  const skin = coat([0, 0.1, 0.02], [0.05, -0.25, 0], 0.09, 0.06);

  it('of any kind goes where all of the skin goes', () => {
    const way = [0.03, -0.02, 0.05] as const;
    const shapes: BodyShape[] = [
      LIMB,
      { kind: 'capsule', a: [0, 0.1, 0.02], b: [0.05, -0.25, 0], radiusA: 0.08, radiusB: 0.08 },
      { kind: 'sphere', a: [0, 0.1, 0.02], b: [0, 0, 0], radiusA: 0.09, radiusB: 0.09 },
      {
        kind: 'box',
        centre: [0.02, -0.07, 0.01],
        rotation: rotationFromAngles([0.1, 0.4, 0.1]),
        halfSize: [0.07, 0.2, 0.07],
      },
      { kind: 'hull', points: [...getShapeDefinition(LIMB).sample(LIMB)] },
    ];
    for (const shape of shapes) {
      const moved = moveWithSkin(
        shape,
        0,
        skin,
        move(skin, (p) => p.map((v, k) => v + way[k]!) as MutableVector3),
      );
      // A hull lists the same corners; places all over it come in another order.
      const [before, after] = [shape, moved].map((one) =>
        one.kind === 'hull' ? one.points : getShapeDefinition(one).sample(one),
      );
      for (let i = 0; i < before!.length; i++)
        expect(after![i], shape.kind).closeTo(before![i]! + way[i % 3]!, 1e-3);
    }
  });

  it('swells as the skin does, at each end by as much as there', () => {
    // 2 cm at the upper end, 1 cm at the lower.
    const swollen = coat([0, 0.1, 0.02], [0.05, -0.25, 0], 0.11, 0.07);
    const moved = moveWithSkin(LIMB, 0, skin, swollen);
    if (moved.kind !== 'taperedCapsule') throw new Error('It is another kind.');
    expect(moved.radiusA).closeTo(0.11, 0.001);
    expect(moved.radiusB).closeTo(0.07, 0.001);
    for (let k = 0; k < 3; k++)
      expect(moved.a[k]).closeTo(LIMB.kind === 'taperedCapsule' ? LIMB.a[k]! : 0, 0.001);
  });

  it('bows as the skin bows: by a small turn its far end goes along', () => {
    const turn = rotationFromAngles([0, 0, 0.06]);
    const moved = moveWithSkin(
      LIMB,
      0,
      skin,
      move(skin, (p) => rotate(turn, p) as MutableVector3),
    );
    if (moved.kind !== 'taperedCapsule' || LIMB.kind !== 'taperedCapsule')
      throw new Error('It is another kind.');
    const wanted = rotate(turn, LIMB.b);
    for (let k = 0; k < 3; k++) expect(moved.b[k]).closeTo(wanted[k]!, 0.0015);
  });

  it('is the very same where the skin is, or where none is near', () => {
    expect(moveWithSkin(LIMB, 0.003, skin, skin)).equal(LIMB);
    const far = move(skin, ([x, y, z]) => [x + 1, y, z]);
    expect(
      moveWithSkin(
        LIMB,
        0,
        far,
        move(far, ([x, y, z]) => [x, y + 0.1, z]),
      ),
    ).equal(LIMB);
  });
});
