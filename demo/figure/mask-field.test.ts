import { expect } from 'chai';
import { createBodyField } from './body-field.ts';
import {
  createHoodField,
  createMaskField,
  createMaskSolid,
  LAMPLIGHTER_CUT,
  PILOT_CUT,
} from './mask-field.ts';
import { polygonise } from './polygonise.ts';

for (const [name, cut] of [
  ['pilot', PILOT_CUT],
  ['Lamplighter', LAMPLIGHTER_CUT],
] as const) {
  describe(`the mask of the ${name}`, () => {
    const solid = createMaskSolid(cut);
    const mask = createMaskField(cut);
    const hood = createHoodField(cut);

    it('hides all of the face, and the hood the rest of the head below the hat', () => {
      const head = polygonise(createBodyField, [-0.12, 1.53, -0.14, 0.12, 1.685, 0.16], 0.005);
      for (let i = 0; i < head.positions.length; i += 3) {
        const [x, y, z] = head.positions.subarray(i, i + 3) as unknown as [number, number, number];
        // Where the head is cut off by the box that it was looked at in.
        if (y < 1.536 || y > 1.679) continue;
        expect(Math.min(solid(x, y, z), hood(x, y, z)), `${x} ${y} ${z}`).below(-0.0005);
      }
    });

    it('is a thin shell with open slits for both eyes and the mouth', () => {
      /** Lengths of wood along a way straight through from the front, m. */
      const thickness = (x: number, y: number): number => {
        let sum = 0;
        for (let z = 0.06; z < 0.16; z += 0.0002) if (mask(x, y, z) < 0) sum += 0.0002;
        return sum;
      };
      for (const x of [-0.036, 0.036]) expect(thickness(x, 1.645)).equal(0);
      expect(thickness(0.005, 1.563)).equal(0);
      for (const [x, y] of [
        [0, 1.6],
        [0.03, 1.61],
        [-0.03, 1.67],
        [0.02, 1.54],
      ] as const)
        expect(thickness(x, y), `${x} ${y}`).within(0.003, 0.022);
    });

    it('is the same on both sides, as the hood but for its folds is', () => {
      for (const [x, y, z] of [
        [0.05, 1.62, 0.1],
        [0.08, 1.66, 0.05],
      ] as const) {
        expect(mask(-x, y, z)).closeTo(mask(x, y, z), 1e-12);
        expect(hood(-x, y, z)).closeTo(hood(x, y, z), 1e-12);
      }
    });
  });
}
