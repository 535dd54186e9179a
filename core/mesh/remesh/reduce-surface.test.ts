import { expect } from 'chai';
import type { Surface } from '../surface.ts';
import { createTube } from '../test-surfaces.ts';
import { createSleeve, listUglySurfaces, placeElsewhere } from '../test-ugly.ts';
import { compareSurfaces } from './compare-surfaces.ts';
import { fitSurface } from './fit-surface.ts';
import { measureDeviation } from './measure-deviation.ts';
import { mendSource } from './mend-source.ts';
import { reduceSurface } from './reduce-surface.ts';

const RADIUS = 0.1;
const tube = createTube(60, 60, () => RADIUS);
const countOf = ({ positions }: Surface): number => positions.length / 3;

/** Middles of the triangles of a tube: how far they are from its axis, on the mean by area, over the radius. */
function measureRadius({ positions: p, triangles }: Surface): number {
  let [sum, total] = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [...p.subarray(3 * triangles[t + k]!, 3 * triangles[t + k]! + 3)]);
    const [u, w] = [b!.map((v, k) => v - a![k]!), c!.map((v, k) => v - a![k]!)];
    const area = Math.hypot(
      u[1]! * w[2]! - u[2]! * w[1]!,
      u[2]! * w[0]! - u[0]! * w[2]!,
      u[0]! * w[1]! - u[1]! * w[0]!,
    );
    for (const [i, j, k] of [
      [2, 2, 2],
      [4, 1, 1],
      [1, 4, 1],
      [1, 1, 4],
    ] as const) {
      const [x, , z] = [0, 1, 2].map((n) => (i * a![n]! + j * b![n]! + k * c![n]!) / 6) as [
        number,
        number,
        number,
      ];
      sum += area * Math.hypot(x, z);
      total += area;
    }
  }
  return sum / total / RADIUS;
}

describe('reducing a surface', () => {
  it('leaves as many points as asked for, on the surface, its borders in place', () => {
    for (const pointCount of [60, 150, 400]) {
      const made = reduceSurface(tube, { pointCount });
      expect(countOf(made)).within(pointCount - 2, pointCount);
      const { turned, pieces, loops, borderDeviation } = compareSurfaces(made, tube);
      expect([turned, pieces.made, loops.made]).deep.equal([0, 1, 2]);
      // So far chords of even triangles lie within the round at most.
      const edge = Math.sqrt((4 * 2 * Math.PI * RADIUS * 0.7) / Math.sqrt(3) / (2 * pointCount));
      const sagitta = RADIUS * (1 - Math.cos(edge / RADIUS / 2));
      expect(measureDeviation(made, tube).most).below(2.5 * sagitta);
      expect(borderDeviation).below(2.5 * sagitta);
    }
  });

  it('keeps the mirror symmetry of its source', () => {
    const made = reduceSurface(tube, { pointCount: 150 });
    const places = new Set(
      Array.from({ length: countOf(made) }, (_, p) =>
        [...made.positions.subarray(3 * p, 3 * p + 3)].map((value) => value.toFixed(6)).join(),
      ),
    );
    for (let p = 0; p < countOf(made); p++) {
      const [x, y, z] = [...made.positions.subarray(3 * p, 3 * p + 3)] as [number, number, number];
      const mirrored = [x === 0 ? 0 : -x, y, z].map((value) => value.toFixed(6)).join();
      expect(places.has(mirrored), mirrored).equal(true);
    }
  });

  it('turns, tears and loses nothing of ugly surfaces, tiny and giant', function () {
    this.timeout(60_000);
    for (const { name, surface } of listUglySurfaces()) {
      const source = mendSource(surface).surface;
      for (const scale of [1, 0.01, 50]) {
        const placed = placeElsewhere(source, scale, 0);
        const pointCount = Math.max(4, Math.round(countOf(placed) / 3));
        const made = reduceSurface(placed, { pointCount });
        const { turned, pieces, loops, crowded } = compareSurfaces(made, placed);
        expect([turned, pieces.made], name).deep.equal([0, pieces.source]);
        // Where more than two triangles meet, what is a border is a matter of opinion.
        if (crowded.source === 0) expect(loops.made, name).equal(loops.source);
        expect(made.positions.every(Number.isFinite), name).equal(true);
        expect(countOf(made), name).most(countOf(placed));
      }
    }
  });

  it('does the same for the same, tells its progress, and refuses what is no number of points', () => {
    const shares: number[] = [];
    const made = reduceSurface(tube, { pointCount: 100, onProgress: (share) => shares.push(share) });
    expect(reduceSurface(tube, { pointCount: 100 })).deep.equal(made);
    expect(shares.at(-1)).equal(1);
    expect(shares.every((share, i) => i === 0 || share >= shares[i - 1]!)).equal(true);
    for (const pointCount of [3, Number.NaN])
      expect(() => reduceSurface(tube, { pointCount })).throw('points');
  });
});

describe('fitting a reduced surface', () => {
  it('puts it as far without as within what it stands for', () => {
    const reduced = reduceSurface(tube, { pointCount: 80 });
    const fitted = fitSurface(reduced, tube);
    expect(measureRadius(reduced)).below(0.99);
    expect(measureRadius(fitted)).closeTo(1, 0.006);
    expect(measureDeviation(fitted, tube).mean).below(0.8 * measureDeviation(reduced, tube).mean);
    expect(compareSurfaces(fitted, tube).turned).equal(0);
  });

  it('moves nothing that is there already', () => {
    const sleeve = createSleeve(8, 0.05, 0.4);
    const fitted = fitSurface(sleeve, sleeve);
    fitted.positions.forEach((value, i) => {
      expect(value).closeTo(sleeve.positions[i]!, 1e-7);
    });
  });
});
