import { expect } from 'chai';
import fc from 'fast-check';
import { createSheet } from '../cloth/test-cloth.ts';
import { SpatialIndex } from '../math/index.ts';
import { castRay } from './cast-ray.ts';
import { buildEdgeTable } from './edge-table.ts';
import { SignedDistanceField } from './signed-distance.ts';
import { createCube } from './test-surfaces.ts';
import { weldPoints, weldTriangles } from './weld-points.ts';

describe('welding', () => {
  it('joins vertices that share a place, -0 and 0 too, in the order of first use', () => {
    const positions = Float32Array.of(1, 0, 0, 2, 0, 0, 1, -0, 0, 3, 0, 0, 2, 0, 0);
    const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(positions);
    expect([...pointOfVertex]).deep.equal([0, 1, 0, 2, 1]);
    expect([...vertexOfPoint]).deep.equal([0, 1, 3]);
    expect(pointCount).equal(3);
    expect([...weldTriangles(Uint32Array.of(0, 1, 3, 0, 2, 1), pointOfVertex)]).deep.equal([0, 1, 2]);
  });

  it('agrees with a plain map on random places', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 3, maxLength: 120 }), (numbers) => {
        const positions = Float32Array.from(numbers.slice(0, numbers.length - (numbers.length % 3)));
        const seen = new Map<string, number>();
        const expected = Array.from({ length: positions.length / 3 }, (_, v) => {
          const key = positions.subarray(3 * v, 3 * v + 3).join();
          if (!seen.has(key)) seen.set(key, seen.size);
          return seen.get(key)!;
        });
        expect([...weldPoints(positions).pointOfVertex]).deep.equal(expected);
      }),
    );
  });
});

describe('edges', () => {
  it('of a closed cube: 18, each between two triangles', () => {
    const { triangles } = createCube();
    const table = buildEdgeTable(triangles, 8);
    expect(table.edgeCount).equal(18);
    expect(table.triangles.every((triangle) => triangle >= 0)).equal(true);
    expect(table.nonManifold.length).equal(0);
  });

  it('met by three triangles are named', () => {
    const table = buildEdgeTable(Uint32Array.of(0, 1, 2, 1, 0, 3, 0, 1, 4), 5);
    expect([...table.nonManifold]).deep.equal([0]);
  });
});

describe('signed distance', () => {
  it('to a cube is right in sign and size all around, corners and edges included (random places)', () => {
    const { positions, triangles } = createCube();
    const field = new SignedDistanceField(positions, triangles);
    const coordinate = fc.double({ min: -2, max: 2, noNaN: true });
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, (x, y, z) => {
        const q = [x, y, z].map((v) => Math.abs(v) - 1) as [number, number, number];
        const outside = Math.hypot(...q.map((v) => Math.max(v, 0)));
        const expected = outside > 0 ? outside : Math.max(...q);
        expect(field.measure(x, y, z)!.distance).closeTo(expected, 1e-5);
      }),
      { numRuns: 400 },
    );
  });

  it('follows the mesh when it moves, and ends at the given reach', () => {
    const { positions, triangles } = createCube();
    const field = new SignedDistanceField(positions, triangles);
    field.refit(positions.map((value, i) => (i % 3 === 0 ? value + 10 : value)));
    expect(field.measure(10.5, 0, 0)!.distance).closeTo(-0.5, 1e-6);
    expect(field.measure(0, 0, 0, 2)).equal(null);
  });
});

describe('rays', () => {
  it('hit the same as the tree of boxes, from either side', () => {
    const { positions, triangles } = createSheet(7, 5, (u, v) => [u, Math.sin(5 * u) * 0.2, v]);
    const index = new SpatialIndex(positions.slice(), triangles);
    const coordinate = fc.double({ min: -0.2, max: 1.2, noNaN: true });
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, coordinate, fc.boolean(), (x, z, tx, tz, isAbove) => {
        const origin: [number, number, number] = [x, isAbove ? 1 : -1, z];
        const displacement = [tx - x, isAbove ? -1 : 1, tz - z] as const;
        const length = Math.hypot(...displacement);
        const direction: [number, number, number] = [
          displacement[0] / length,
          displacement[1] / length,
          displacement[2] / length,
        ];
        const plain = castRay(positions, triangles, origin, direction);
        const tree = index.castRay(origin, direction);
        // A ray through an edge may slip between two triangles, in one of the two or both: compare where rays beside it
        // hit the same sheet.
        const isSure = [-1e-5, 1e-5].every((nudge) => {
          const beside = castRay(positions, triangles, [x + nudge, origin[1], z - nudge], direction);
          return beside && plain ? Math.abs(beside.distance - plain.distance) < 1e-3 : beside === plain;
        });
        fc.pre(isSure);
        if (plain && tree) expect(plain.distance).closeTo(tree.distance, 1e-4);
        else fc.pre(plain === null && tree === null);
      }),
      { numRuns: 300 },
    );
  });
});
