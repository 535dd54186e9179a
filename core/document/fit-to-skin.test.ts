import { expect } from 'chai';
import type { BodyShape } from '../bodies/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import { createDocument, createGarment, fitToSkin, insertGarment, type RecordId } from './index.ts';

/** The leg of the wardrobe is a tube of 0.1 m around its joints, the skirt over it a garment; joints' space is half as large. */
describe('a body fitted to the skin of its joint', () => {
  const character = createWardrobe();
  const document = createDocument();
  let count = 0;
  insertGarment(
    document,
    createGarment(character, document, 1, () => `id-${++count}` as RecordId),
  );
  const start: BodyShape = {
    kind: 'taperedCapsule',
    a: [0, 0, 0],
    b: [0, -0.1, 0],
    radiusA: 0.02,
    radiusB: 0.02,
  };

  it('lies on it, of the kind that it has, and by no garment', () => {
    for (const jointName of ['hip', 'knee']) {
      const fitted = fitToSkin(document, character, { jointName, shape: start });
      expect(fitted.kind).equal('taperedCapsule');
      if (fitted.kind !== 'taperedCapsule') return;
      expect(fitted.radiusA).closeTo(0.1, 0.012);
      expect(fitted.radiusB).closeTo(0.1, 0.012);
      for (const end of [fitted.a, fitted.b]) expect(Math.hypot(end[0], end[2])).below(0.01);
    }
  });

  it('has as many vertices as asked for, as a hull', () => {
    const hull: BodyShape = { kind: 'hull', points: [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1] };
    for (const vertices of [8, 20]) {
      const fitted = fitToSkin(document, character, { jointName: 'hip', shape: hull }, vertices);
      expect(fitted.kind === 'hull' && fitted.points.length / 3).equal(vertices);
    }
  });

  it('is refused for a joint without skin, with the reason', () => {
    expect(() => fitToSkin(document, character, { jointName: 'Leg', shape: start })).throw(
      RangeError,
      'moves 0 vertices',
    );
    expect(() => fitToSkin(document, character, { jointName: 'tail', shape: start })).throw(
      RangeError,
      'tail',
    );
  });
});
