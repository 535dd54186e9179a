import { expect } from 'chai';
import { createCapsuleHit, measureTaperedCapsule } from '../../core/bodies/index.ts';
import { createCapsuleGeometry, createRingGeometry } from './capsule-geometry.ts';
import { getReachColor, REACH_STOPS } from './reach-colors.ts';

describe('drawn bodies', () => {
  const shapes: [number, number, number][] = [
    [0, 0.1, 0.1],
    [0.4, 0.1, 0.1],
    [0.4, 0.15, 0.05],
    [0.3, 0.02, 0.2],
  ];
  for (const [length, radiusA, radiusB] of shapes) {
    it(`of ${length} m with ${radiusA} and ${radiusB} lie on the surface that the cloth meets`, () => {
      const row = Float32Array.of(0, 0, 0, radiusA, 0, length, 0, radiusB);
      const hit = createCapsuleHit();
      for (const geometry of [
        createCapsuleGeometry(length, radiusA, radiusB),
        createRingGeometry(length, radiusA, radiusB),
      ]) {
        const { array } = geometry.attributes.position!;
        expect(array.length).above(100);
        for (let i = 0; i < array.length; i += 3) {
          measureTaperedCapsule(row, 0, array[i]!, array[i + 1]!, array[i + 2]!, hit);
          expect(Math.abs(hit.distance)).below(1e-6);
        }
      }
    });
  }
});

describe('the reach map', () => {
  it('runs from the first to the last stop through the middle, and ends there', () => {
    expect([0, 0.5, 1].map(getReachColor)).deep.equal(REACH_STOPS.map((stop) => stop.toLowerCase()));
    expect(getReachColor(-1)).equal(getReachColor(0));
    expect(getReachColor(7)).equal(getReachColor(1));
  });
});
