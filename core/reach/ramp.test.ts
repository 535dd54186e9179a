import { expect } from 'chai';
import fc from 'fast-check';
import { createSheet } from '../cloth/test-cloth.ts';
import { createRandom } from '../math/index.ts';
import { buildEdgeTable, buildNeighbours, type Surface } from '../mesh/index.ts';
import { computeRamp, writeRamp } from './ramp.ts';
import { EVEN_RAMP, evaluateCurve, moveKnot, type RampCurve } from './ramp-curve.ts';

const COLUMNS = 24;

/** A crumpled sheet of uneven triangles with holes torn into it. */
function createHoledSheet(seed: number): Surface {
  const random = createRandom(seed);
  const bumps = Array.from({ length: 4 }, () => [
    3 + 9 * random(),
    3 + 9 * random(),
    6 * random(),
    0.1 * random(),
  ]);
  const { positions, triangles } = createSheet(COLUMNS, COLUMNS, (u, v) => {
    const z = bumps.reduce((sum, [a, b, c, d]) => sum + d! * Math.sin(a! * u + b! * v + c!), 0);
    const [du, dv] = [0.4 * (random() - 0.5), 0.4 * (random() - 0.5)];
    return [u + du / COLUMNS, -v + dv / COLUMNS, z];
  });
  const holes = Array.from({ length: 3 }, () => [
    0.25 + 0.5 * random(),
    0.25 + 0.5 * random(),
    0.05 + 0.09 * random(),
  ]);
  const isInHole = (i: number): boolean =>
    holes.some(([x, y, r]) => Math.hypot(positions[3 * i]! - x!, -positions[3 * i + 1]! - y!) < r!);
  const kept: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [...triangles.subarray(t, t + 3)];
    if (!corners.some(isInHole)) kept.push(...corners);
  }
  return { positions, triangles: Uint32Array.from(kept) };
}

/** Ends of random form: rows at the top and bottom, or blots. */
function createEnds(seed: number, { positions }: Surface): [low: Uint8Array, high: Uint8Array] {
  const random = createRandom(seed + 1000);
  const count = positions.length / 3;
  const pick = (x: number, y: number, r: number): Uint8Array =>
    Uint8Array.from({ length: count }, (_, i) =>
      Math.hypot(positions[3 * i]! - x, -positions[3 * i + 1]! - y) < r ? 1 : 0,
    );
  const row = (from: number): Uint8Array =>
    Uint8Array.from({ length: count }, (_, i) => (Math.floor(i / (COLUMNS + 1)) === from ? 1 : 0));
  return seed % 2 === 0 ? [row(0), row(COLUMNS)] : [pick(0.1, random(), 0.08), pick(0.9, random(), 0.12)];
}

describe('a ramp', () => {
  for (let seed = 1; seed <= 20; seed++) {
    it(`is exact at its ends and has no hill or hollow between, mesh ${seed} with holes`, () => {
      const surface = createHoledSheet(seed);
      const [low, high] = createEnds(seed, surface);
      const shares = computeRamp(surface, low, high);
      const used = new Set(surface.triangles);
      const { start, list } = buildNeighbours(
        buildEdgeTable(surface.triangles, shares.length),
        shares.length,
      );
      let between = 0;
      shares.forEach((share, i) => {
        if (Number.isNaN(share)) return;
        if (!used.has(i)) expect.fail(`point ${i} lies on no triangle`);
        if (low[i]) expect(share).equal(0);
        else if (high[i]) expect(share).equal(1);
        else {
          expect(share).within(0, 1);
          const around = [...list.subarray(start[i]!, start[i + 1]!)].map((j) => shares[j]!);
          expect(Math.min(...around), `hollow at ${i}`).at.most(share + 1e-6);
          expect(Math.max(...around), `hill at ${i}`).at.least(share - 1e-6);
          if (share > 0.05 && share < 0.95) between++;
        }
      });
      expect(between).above(100);
      const values = Float32Array.from(shares, (_, i) => 0.01 * (i % 7));
      const change = writeRamp(values, shares, 0, 0.6, { first: [0.2, 0.05], second: [0.6, 0.8] });
      const after = values.slice();
      change.indices.forEach((index, k) => {
        after[index] = change.after[k]!;
      });
      after.forEach((value, i) => {
        if (low[i] && !Number.isNaN(shares[i]!)) expect(value).equal(0);
        else if (high[i] && !Number.isNaN(shares[i]!)) expect(value).equal(Math.fround(0.6));
        if (Number.isNaN(shares[i]!)) expect(value).equal(values[i]);
      });
      // Never falls with the share.
      const order = [...shares.keys()]
        .filter((i) => !Number.isNaN(shares[i]!))
        .sort((p, q) => shares[p]! - shares[q]!);
      order.slice(1).forEach((i, k) => {
        expect(after[i]).at.least(after[order[k]!]! - 1e-7);
      });
    });
  }

  it('is even along a strip, whatever its triangles', () => {
    const { positions, triangles } = createSheet(30, 3, (u, v) => [u * u, 0.1 * v, 0]);
    const ends = [0, 1].map((x) =>
      Uint8Array.from({ length: 124 }, (_, i) => (positions[3 * i] === x ? 1 : 0)),
    );
    const shares = computeRamp({ positions, triangles }, ends[0]!, ends[1]!);
    shares.forEach((share, i) => {
      expect(share).closeTo(positions[3 * i]!, 2e-5);
    });
  });

  it('leaves pieces alone that do not join both ends, and asks for what is missing', () => {
    const surface = createHoledSheet(2);
    const count = surface.positions.length / 3;
    const two = {
      positions: Float32Array.of(...surface.positions, 5, 0, 0, 6, 0, 0, 5, 1, 0),
      triangles: Uint32Array.of(...surface.triangles, count, count + 1, count + 2),
    };
    const [low, high] = createEnds(2, surface).map((end) => Uint8Array.of(...end, 0, 0, 0));
    expect([...computeRamp(two, low!, high!).slice(count)]).deep.equal([Number.NaN, Number.NaN, Number.NaN]);
    const empty = new Uint8Array(count + 3);
    expect(() => computeRamp(two, empty, high!)).throw('low end of the ramp has no vertices');
    expect(() => computeRamp(two, low!, empty)).throw('high end of the ramp has no vertices');
    const apart = empty.slice().fill(1, count);
    expect(() => computeRamp(two, low!, apart)).throw('No piece of the surface joins the two ends');
  });
});

describe('the curve of a ramp', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  const curves = fc.tuple(share, share, share, share).map(([a, b, c, d]): RampCurve => {
    const moved = moveKnot(EVEN_RAMP, 'second', 0.5 + a / 2, b);
    return moveKnot(moved, 'first', c / 2, d);
  });

  it('runs through its knots and never falls, wherever they are', () => {
    fc.assert(
      fc.property(curves, (curve) => {
        expect(evaluateCurve(curve, 0)).equal(0);
        expect(evaluateCurve(curve, 1)).equal(1);
        for (const [x, y] of [curve.first, curve.second]) expect(evaluateCurve(curve, x)).closeTo(y, 1e-9);
        let before = 0;
        for (let t = 0; t <= 1; t += 0.01) {
          const now = evaluateCurve(curve, t);
          expect(now).at.least(before - 1e-12);
          before = now;
        }
      }),
    );
  });

  it('is the straight line to begin with', () => {
    for (let t = 0; t <= 1; t += 0.05) expect(evaluateCurve(EVEN_RAMP, t)).closeTo(t, 1e-12);
  });

  it('keeps its knots in their order', () => {
    const moved = moveKnot(EVEN_RAMP, 'first', 0.9, 0.9);
    expect(moved.first[0]).below(moved.second[0]);
    expect(moved.first[1]).at.most(moved.second[1]);
    expect(moveKnot(EVEN_RAMP, 'second', 2, -1).second).deep.equal([0.98, 1 / 3]);
  });
});
