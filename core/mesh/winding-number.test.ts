import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { createGrid } from './test-surfaces.ts';
import { WindingNumber } from './winding-number.ts';

interface Mesh {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** A ball about a place; `open` leaves its cap off. */
function createBall(radius: number, [x, y, z]: readonly [number, number, number], isOpen = false): Mesh {
  const { positions, triangles } = createGrid(32, 16, (u, v) => {
    const height = Math.PI * (isOpen ? 0.2 + 0.8 * v : v);
    const ring = radius * Math.sin(height);
    return [
      x + ring * Math.cos(2 * Math.PI * u),
      y + radius * Math.cos(height),
      z + ring * Math.sin(2 * Math.PI * u),
    ];
  });
  return { positions, triangles };
}

function join(...meshes: Mesh[]): Mesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const mesh of meshes) {
    const first = positions.length / 3;
    positions.push(...mesh.positions);
    triangles.push(...Array.from(mesh.triangles, (vertex) => vertex + first));
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

/** The sum over all triangles one by one, each as its own tree of one leaf. */
function measureExactly({ positions, triangles }: Mesh, place: readonly [number, number, number]): number {
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3)
    sum += new WindingNumber(positions, triangles.subarray(t, t + 3)).measure(...place);
  return sum;
}

const CENTRES = [
  [0, 0, 0],
  [0.25, 0.05, 0],
] as const;
const PAIR = join(createBall(0.2, CENTRES[0]), createBall(0.15, CENTRES[1]));

describe('the winding number', () => {
  it('counts the bodies around a place, also where they overlap', () => {
    const random = createRandom(3);
    const winding = new WindingNumber(PAIR.positions, PAIR.triangles);
    const seen = new Set<number>();
    for (let i = 0; i < 2000; i++) {
      const place = [0.7 * random() - 0.3, 0.5 * random() - 0.25, 0.5 * random() - 0.25] as const;
      const depths = CENTRES.map((centre, b) => {
        const away = Math.hypot(...place.map((value, k) => value - centre[k]!));
        return [0.2, 0.15][b]! - away;
      });
      // The balls are polyhedra: within 2 mm of the surface either is right.
      if (depths.some((depth) => Math.abs(depth) < 0.002)) continue;
      const count = depths.filter((depth) => depth > 0).length;
      expect(winding.measure(...place)).closeTo(count, 0.03);
      seen.add(count);
    }
    expect([...seen].sort()).deep.equal([0, 1, 2]);
  });

  it('is the sum of all triangles, also of an open surface, and after it moved', () => {
    const mesh = join(createBall(0.2, [0, 0, 0], true), createBall(0.15, [0.25, 0.05, 0]));
    const winding = new WindingNumber(mesh.positions, mesh.triangles);
    const random = createRandom(8);
    for (const move of [0, 0.3]) {
      const moved = mesh.positions.map((value, i) => (i % 3 === 1 ? 1.2 * value + move : value));
      winding.refit(moved);
      for (let i = 0; i < 12; i++) {
        const place = [0.8 * random() - 0.4, 0.8 * random() - 0.4 + move, 0.6 * random() - 0.3] as const;
        const exact = measureExactly({ ...mesh, positions: moved }, place);
        expect(winding.measure(...place)).closeTo(exact, 0.03);
      }
    }
  });

  it('of nothing is nothing', () => {
    expect(new WindingNumber(new Float32Array(0), new Uint32Array(0)).measure(0, 0, 0)).equal(0);
  });
});
