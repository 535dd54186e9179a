import { expect } from 'chai';
import { createRandom, normalise, type Vector3 } from '../../math/index.ts';
import { addLine, addPlane, addQuadric, measureQuadrics, placeBest, QUADRIC } from './quadrics.ts';

const random = createRandom(11);
const pick = (): Vector3 => [random() - 0.5, random() - 0.5, random() - 0.5];
const dot = (p: Vector3, q: Vector3): number => p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
const less = (p: Vector3, q: Vector3): Vector3 => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];

interface Part {
  isLine: boolean;
  normal: Vector3;
  place: Vector3;
  weight: number;
}

/** Weighed squared distances from planes and lines, one by one. */
function sum(parts: readonly Part[], at: Vector3): number {
  return parts.reduce((so, { isLine, normal, place, weight }) => {
    const way = less(at, place);
    const along = dot(way, normal);
    return so + weight * (isLine ? dot(way, way) - along * along : along * along);
  }, 0);
}

/** Two quadrics of some planes and lines, and these. */
function create(count: number): { q: Float64Array; parts: Part[] } {
  const q = new Float64Array(2 * QUADRIC);
  const parts = Array.from({ length: count }, (_, i): Part => {
    const part = {
      isLine: i % 3 === 2,
      normal: normalise([...pick()]),
      place: pick(),
      weight: 0.1 + random(),
    };
    (part.isLine ? addLine : addPlane)(q, QUADRIC * (i % 2), part.normal, part.place, part.weight);
    return part;
  });
  return { q, parts };
}

describe('quadrics', () => {
  it('measure what planes and lines one by one come to, together as one', () => {
    for (let round = 0; round < 40; round++) {
      const { q, parts } = create(7);
      const at = pick();
      expect(measureQuadrics(q, 0, QUADRIC, at)).closeTo(sum(parts, at), 1e-9);
      addQuadric(q, 0, QUADRIC);
      const none = new Float64Array(2 * QUADRIC);
      none.set(q.subarray(0, QUADRIC));
      expect(measureQuadrics(none, 0, QUADRIC, at)).closeTo(sum(parts, at), 1e-9);
    }
  });

  it('are least where they say, within the plane of the cut too', () => {
    for (let round = 0; round < 40; round++) {
      const { q, parts } = create(8);
      for (const isInPlane of [false, true]) {
        const best = placeBest(q, 0, QUADRIC, pick(), isInPlane)!;
        if (isInPlane) expect(best[0]).equal(0);
        const least = sum(parts, best);
        for (let k = isInPlane ? 1 : 0; k < 3; k++) {
          for (const step of [-0.01, 0.01]) {
            const beside = best.map((value, c) => (c === k ? value + step : value)) as [
              number,
              number,
              number,
            ];
            expect(sum(parts, beside)).above(least);
          }
        }
      }
    }
  });

  it('of one plane alone are least in it, beneath the middle that they are asked near', () => {
    const q = new Float64Array(2 * QUADRIC);
    addPlane(q, 0, [0, 1, 0], [0, 0.3, 0], 2);
    const [x, y, z] = placeBest(q, 0, QUADRIC, [0.2, 1, -0.4], false)!;
    expect(y).closeTo(0.3, 1e-4);
    expect([x, z].map((value) => Number(value.toFixed(4)))).deep.equal([0.2, -0.4]);
  });
});
