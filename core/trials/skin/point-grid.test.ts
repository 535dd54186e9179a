import { expect } from 'chai';
import { createRandom } from '../../math/index.ts';
import { PointGrid } from './point-grid.ts';

describe('the grid of points', () => {
  for (const [name, size] of [
    ['a ring', 0.02],
    ['a person', 1.8],
    ['a giant', 20],
    ['a town', 20_000],
  ] as const) {
    it(`has each point once, in the cell that it lies in, of ${name}`, () => {
      const random = createRandom(3);
      const positions = Float32Array.from({ length: 3 * 500 }, () => size * (random() - 0.3));
      const points = Uint32Array.from({ length: 400 }, (_, i) => i + 50);
      const grid = new PointGrid();
      // Filled before with something else.
      grid.fill(positions, points, 10);
      grid.fill(positions, points, 400);
      const [sizeX, sizeY, sizeZ] = grid.size as unknown as [number, number, number];
      const seen = new Set<number>();
      for (let x = 0; x < sizeX; x++) {
        for (let y = 0; y < sizeY; y++) {
          for (let z = 0; z < sizeZ; z++) {
            const cell = (x * sizeY + y) * sizeZ + z;
            for (let i = grid.start[cell]!; i < grid.start[cell + 1]!; i++) {
              const point = grid.list[i]!;
              expect(seen.has(point)).equal(false);
              seen.add(point);
              [x, y, z].forEach((c, k) => {
                const value = positions[3 * point + k]!;
                expect(grid.rows[3 * i + k]).equal(value);
                expect(Math.floor((value - grid.low[k]!) / grid.cell)).within(c - 1e-9, c + 1e-9);
              });
            }
          }
        }
      }
      expect(seen.size).equal(400);
      expect(grid.count).equal(400);
      expect(sizeX * sizeY * sizeZ).at.most(4096);
    });
  }

  it('of no points has no cells', () => {
    const grid = new PointGrid();
    grid.fill(new Float32Array(0), new Uint32Array(0), 0);
    expect([...grid.size]).eql([0, 0, 0]);
  });
});
