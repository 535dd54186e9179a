import { expect } from 'chai';
import { concatenate } from './concatenate.ts';
import { createRandom } from './random.ts';
import { SpatialIndex } from './spatial-index.ts';
import { squaredToTriangle } from './triangle-distance.ts';

describe('the distance of a place from a triangle', () => {
  const random = createRandom(5);
  const draw = (): [number, number, number] => [random() - 0.5, random() - 0.5, random() - 0.5];

  it('is that which the spatial index finds, over the face, beside edges and corners', () => {
    for (let i = 0; i < 60; i++) {
      const corners = concatenate([draw(), draw(), draw()]);
      const index = new SpatialIndex(corners.slice(), Uint32Array.of(0, 1, 2));
      const [x, y, z] = draw();
      const { point } = index.findClosest(x, y, z)!;
      const wanted = (point[0] - x) ** 2 + (point[1] - y) ** 2 + (point[2] - z) ** 2;
      expect(squaredToTriangle(corners, [0, 3, 6], x, y, z)).closeTo(wanted, 1e-6);
    }
  });

  it('is that to the line or point that a flat one is', () => {
    const line = [0, 0, 0, 1, 0, 0, 0.5, 0, 0];
    expect(squaredToTriangle(line, [0, 3, 6], 0.3, 0.4, 0)).closeTo(0.16, 1e-12);
    const point = [0.1, 0, 0, 0.1, 0, 0, 0.1, 0, 0];
    expect(squaredToTriangle(point, [0, 3, 6], 0.1, 0.3, 0.4)).closeTo(0.25, 1e-12);
  });
});

describe('joined rows', () => {
  it('stand one after the other, of whatever kind they are', () => {
    expect([...concatenate([[1, 2], Uint8Array.of(3), new Float32Array(0), [4.5]])]).deep.equal([
      1, 2, 3, 4.5,
    ]);
    expect(concatenate([]).length).equal(0);
  });
});
