import { expect } from 'chai';
import { Triangle, Vector3 } from 'three';
import { createRandom, SpatialIndex } from './index.ts';

/** Distance to the closest of all triangles, one after the other. */
function measureAll(positions: Float32Array, triangles: Uint32Array, query: Vector3): number {
  const corner = (i: number): Vector3 => new Vector3().fromArray(positions, 3 * triangles[i]!);
  const closest = new Vector3();
  let least = Number.POSITIVE_INFINITY;
  for (let t = 0; t < triangles.length; t += 3) {
    new Triangle(corner(t), corner(t + 1), corner(t + 2)).closestPointToPoint(query, closest);
    least = Math.min(least, closest.distanceTo(query));
  }
  return least;
}

describe('the index of a surface', () => {
  it('gives the closest point within the limit and nothing beyond it, whatever the triangles', () => {
    const random = createRandom(11);
    const between = (low: number, high: number): number => low + (high - low) * random();
    for (let round = 0; round < 20; round++) {
      const count = Math.round(between(1, 60));
      const size = 10 ** between(-2, 1);
      const positions = Float32Array.from(
        { length: 9 * count },
        (_, i) => size * random() + (i % 9 < 3 ? 0 : 0.01),
      );
      const triangles = Uint32Array.from({ length: 3 * count }, (_, i) => i);
      const index = new SpatialIndex(positions.slice(), triangles);
      for (let k = 0; k < 40; k++) {
        const [x, y, z] = [0, 1, 2].map(() => size * between(-0.5, 1.5)) as [number, number, number];
        const limit = size * between(0, 0.6);
        const expected = measureAll(positions, triangles, new Vector3(x, y, z));
        const found = index.findClosest(x, y, z, limit);
        if (Math.abs(expected - limit) < 1e-6 * size) continue;
        if (expected > limit) expect(found).equal(null);
        else expect(found!.distance).closeTo(expected, 1e-6 * size);
        expect(index.findClosest(x, y, z)!.distance).closeTo(expected, 1e-6 * size);
      }
    }
  });
});
