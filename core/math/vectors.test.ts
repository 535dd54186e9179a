import { expect } from 'chai';
import fc from 'fast-check';
import {
  cross,
  dot,
  type MutableVector3,
  normalise,
  percentile,
  subtract,
  writeTriangleCross,
} from './index.ts';

const vector = fc.tuple(
  ...[0, 1, 2].map(() => fc.double({ min: -1e3, max: 1e3, noNaN: true })),
) as fc.Arbitrary<[number, number, number]>;

describe('vectors', () => {
  it('have a cross product that is square to both, as long as the area that they span', () => {
    fc.assert(
      fc.property(vector, vector, (p, q) => {
        const across = cross(p, q);
        const [pp, qq, pq] = [dot(p, p), dot(q, q), dot(p, q)];
        expect(Math.abs(dot(across, p))).below(1e-9 * (1 + pp * Math.sqrt(qq)));
        expect(Math.abs(dot(across, across) - (pp * qq - pq * pq))).below(1e-9 * (1 + pp * qq));
      }),
    );
    expect(cross([1, 0, 0], [0, 1, 0])).deep.equal([0, 0, 1]);
  });

  it('are made one long, and nothing stays nothing', () => {
    expect(normalise([3, 0, 4])).deep.equal([0.6, 0, 0.8]);
    expect(normalise([0, 0, 0])).deep.equal([0, 0, 0]);
  });

  it('across a triangle turn with its corners, whatever lies between its places', () => {
    fc.assert(
      fc.property(vector, vector, vector, (a, b, c) => {
        const positions = [...a, 9, ...b, 9, ...c, 9];
        const out: MutableVector3 = [0, 0, 0];
        expect(writeTriangleCross(positions, 0, 4, 8, out)).equal(out);
        expect(out).deep.equal(cross(subtract(b, a), subtract(c, a)));
        const turned = writeTriangleCross(positions, 0, 8, 4, [0, 0, 0]);
        out.forEach((value, k) => {
          expect(turned[k]! + value).equal(0);
        });
      }),
    );
  });
});

describe('a percentile', () => {
  it('is a value of the list, with at least that share at or below it', () => {
    expect(percentile([], 0.5)).equal(0);
    expect(percentile([4, 1, 3, 2, Number.NaN], 0.5)).equal(3);
    expect([0, 0.95, 1].map((share) => percentile([5, 1, 9], share))).deep.equal([1, 9, 9]);
    fc.assert(
      fc.property(
        fc.array(fc.float({ noNaN: true }), { minLength: 1 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (values, share) => {
          const found = percentile(values, share);
          expect(values.some((value) => value === found)).equal(true);
          expect(values.filter((value) => value <= found).length).least(share * values.length);
        },
      ),
    );
  });
});
