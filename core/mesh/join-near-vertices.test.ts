import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { joinNearVertices } from './join-near-vertices.ts';
import type { Surface } from './surface.ts';
import { weldPoints } from './weld-points.ts';

const SIDE = 20;

/** A waved sheet of two halves that share no vertex: the seam runs up its middle. @param scale - Of an edge, m. */
function createHalves(scale: number, origin = 0): Surface {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const half of [0, 1]) {
    const first = positions.length / 3;
    for (let y = 0; y <= SIDE; y++)
      for (let x = 0; x <= SIDE; x++)
        positions.push(
          origin + scale * (x + half * SIDE),
          origin + scale * y,
          origin + scale * Math.sin(0.3 * (x + half * SIDE)),
        );
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const a = first + (SIDE + 1) * y + x;
        triangles.push(a, a + SIDE + 1, a + SIDE + 2, a, a + SIDE + 2, a + 1);
      }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

/** Moves every vertex of the second half by up to so much, m. */
function shake({ positions }: Surface, most: number): Float32Array {
  const random = createRandom(3);
  const half = positions.length / 2;
  return positions.map((value, i) => (i < half ? value : value + (2 * random() - 1) * most));
}

describe('vertices that lie together but for rounding', () => {
  for (const scale of [1e-4, 0.02, 3]) {
    it(`are one point afterwards, and others are not touched, where an edge is ${scale} m`, () => {
      const surface = createHalves(scale);
      const exact = weldPoints(surface.positions).pointCount;
      const shaken = shake(surface, 2e-5 * scale);
      expect(weldPoints(shaken).pointCount).equal(exact + SIDE + 1);
      const joined = shaken.slice();
      expect(joinNearVertices(joined, surface.triangles)).equal(SIDE + 1);
      expect(weldPoints(joined).pointCount).equal(exact);
      const moved = joined.reduce((count, value, i) => count + (value === shaken[i] ? 0 : 1), 0);
      expect(moved).within(SIDE + 1, 3 * (SIDE + 1));
      expect(joinNearVertices(joined, surface.triangles)).equal(0);
    });
  }

  it('stay apart by more than a ten-thousandth of an edge: that is a seam to be mended, or a gap that is meant', () => {
    const surface = createHalves(0.02);
    const apart = surface.positions.map((value, i) =>
      i % 3 === 0 && i >= surface.positions.length / 2 ? value + 3e-4 * 0.02 : value,
    );
    const before = apart.slice();
    expect(joinNearVertices(apart, surface.triangles)).equal(0);
    expect(apart).deep.equal(before);
  });

  it('are found by the shorter of the edges beside them: dense parts are not joined across their own detail', () => {
    const coarse = createHalves(1);
    const fine = createHalves(5e-5);
    const positions = Float32Array.of(...coarse.positions, ...fine.positions);
    const first = coarse.positions.length / 3;
    const triangles = Uint32Array.of(...coarse.triangles, ...fine.triangles.map((v) => v + first));
    expect(joinNearVertices(positions, triangles)).equal(0);
  });

  it('are found far from the origin too, and nothing is done without triangles', () => {
    const far = createHalves(0.5, 40);
    const shaken = shake(far, 1e-5);
    expect(joinNearVertices(shaken, far.triangles)).within(1, SIDE + 1);
    expect(weldPoints(shaken).pointCount).equal(weldPoints(far.positions).pointCount);
    expect(joinNearVertices(shaken, new Uint32Array(0))).equal(0);
    expect(joinNearVertices(new Float32Array(0), new Uint32Array(0))).equal(0);
  });
});
