import { expect } from 'chai';
import { buildEdgeTable, buildNeighbours, fillSmoothly, type Surface } from '../../mesh/index.ts';
import { createGrid, createTube } from '../../mesh/test-surfaces.ts';
import {
  findDominantJoints,
  handOverWeights,
  setJointWeights,
  smoothWeights,
  toDenseWeights,
  toSparseWeights,
  transferFields,
} from './index.ts';

/** A tube with a side step along x. Weights grade from joint 0 at the top to joint 1 at the bottom. */
function createLimb(radius: number, x: number, columns = 40, rows = 40): Surface {
  const tube = createTube(columns, rows, () => radius);
  for (let i = 0; i < tube.positions.length; i += 3) tube.positions[i] = tube.positions[i]! + x;
  return tube;
}

function gradeDown({ positions }: Surface, joints: number, top: number, bottom: number): Float32Array {
  const weights = new Float32Array((joints * positions.length) / 3);
  for (let p = 0; p < positions.length / 3; p++) {
    const share = Math.min(1, Math.max(0, -positions[3 * p + 1]! / 0.7));
    weights[joints * p + top] = 1 - share;
    weights[joints * p + bottom] = share;
  }
  return weights;
}

function join(...surfaces: Surface[]): Surface {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const surface of surfaces) {
    const offset = positions.length / 3;
    positions.push(...surface.positions);
    triangles.push(...surface.triangles.map((corner) => corner + offset));
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

const sumsOf = (dense: Float32Array, joints: number): number[] =>
  Array.from({ length: dense.length / joints }, (_, p) =>
    dense.subarray(joints * p, joints * (p + 1)).reduce((sum, weight) => sum + weight, 0),
  );

describe('transfer of skin weights', () => {
  it('gives a garment cut from the body the weights of the body', () => {
    const body = createLimb(0.1, 0.3);
    const weights = gradeDown(body, 3, 0, 2);
    const garment = { positions: body.positions, triangles: body.triangles.slice(600, 4200) };
    const used = new Set(garment.triangles);
    const { values, farOff } = transferFields(garment, body, weights, 3);
    for (const p of used) {
      for (let j = 0; j < 3; j++) expect(values[3 * p + j]).closeTo(weights[3 * p + j]!, 1e-5);
    }
    // On the body itself a point without a triangle is matched, too.
    expect(farOff).equal(0);
  });

  it('gives every weight back to an exact copy, where normals cancel out, too', () => {
    const body = createLimb(0.1, 0.3);
    const weights = gradeDown(body, 3, 0, 2);
    const bothWays = Uint32Array.from([...body.triangles, ...body.triangles.toReversed()]);
    const copy = { positions: body.positions.slice(), triangles: bothWays };
    const { values, matched } = transferFields(copy, body, weights, 3);
    expect(matched).equal(body.positions.length / 3);
    values.forEach((value, i) => {
      expect(value).closeTo(weights[i]!, 1e-5);
    });
  });

  it('never exchanges weights between two legs 1 cm apart', () => {
    const legs = join(createLimb(0.08, -0.085), createLimb(0.08, 0.085));
    const half = legs.positions.length / 6;
    const weights = new Float32Array((4 * legs.positions.length) / 3);
    weights.set(gradeDown(createLimb(0.08, -0.085), 4, 0, 1));
    weights.set(gradeDown(createLimb(0.08, 0.085), 4, 2, 3), 4 * half);
    // Each trouser leg 4 mm over its own leg: in between, 6 mm from the other.
    const trousers = join(createLimb(0.084, -0.085, 46, 33), createLimb(0.084, 0.085, 46, 33));
    const { values, matched } = transferFields(trousers, legs, weights, 4);
    const count = trousers.positions.length / 3;
    expect(matched).above(0.9 * count);
    for (let p = 0; p < count; p++) {
      const [own, other] = p < count / 2 ? [0, 2] : [2, 0];
      expect(values[4 * p + own]! + values[4 * p + own + 1]!).closeTo(1, 1e-3);
      expect(Math.abs(values[4 * p + other]!) + Math.abs(values[4 * p + other + 1]!)).below(1e-3);
    }
  });

  it('completes a loose skirt smoothly, also 5 cm off the body and more', () => {
    const body = createLimb(0.1, 0, 60, 50);
    const weights = gradeDown(body, 2, 0, 1);
    for (const flare of [0.05, 0.16]) {
      const skirt = createTube(60, 40, (v) => 0.11 + flare * v);
      const { values, matched, filled } = transferFields(skirt, body, weights, 2);
      expect(matched).above(200);
      if (flare > 0.1) expect(filled).above(200);
      for (const sum of sumsOf(values, 2)) expect(sum).closeTo(1, 1e-3);
      const { edges } = buildEdgeTable(skirt.triangles, skirt.positions.length / 3);
      for (let e = 0; e < edges.length; e += 2) {
        expect(Math.abs(values[2 * edges[e]!]! - values[2 * edges[e + 1]!]!)).below(0.08);
      }
    }
  });

  it('gives a piece that lies nowhere near the body the closest weights', () => {
    const body = createLimb(0.1, 0);
    const patch = createGrid(4, 4, (u, v) => [2 + 0.1 * u, -0.35 + 0.01 * v, 0.1 * u]);
    const { values, farOff } = transferFields(patch, body, gradeDown(body, 2, 0, 1), 2);
    expect(farOff).equal(25);
    expect(values[0]).closeTo(0.5, 0.05);
  });
});

describe('filling in over a surface', () => {
  it('continues a linear field exactly into a hole of a flat sheet', () => {
    const sheet = createGrid(24, 20, (u, v) => [u + 0.13 * v, v, 0]);
    const count = sheet.positions.length / 3;
    const field = (p: number): number => 0.3 + 2 * sheet.positions[3 * p]! - sheet.positions[3 * p + 1]!;
    const isKnown = Uint8Array.from({ length: count }, (_, p) => {
      const [i, j] = [p % 25, Math.floor(p / 25)];
      return i > 7 && i < 17 && j > 6 && j < 14 ? 0 : 1;
    });
    const values = Float32Array.from({ length: count }, (_, p) => (isKnown[p] ? field(p) : -9));
    fillSmoothly(sheet, values, 1, isKnown);
    for (let p = 0; p < count; p++) expect(values[p]).closeTo(field(p), 2e-3);
  });

  it('leaves known values, and a piece without any, as they are', () => {
    const sheet = createGrid(4, 4, (u, v) => [u, v, 0]);
    const values = Float32Array.from({ length: 25 }, (_, p) => p);
    fillSmoothly(sheet, values, 1, new Uint8Array(25));
    expect([...values]).deep.equal(Array.from({ length: 25 }, (_, p) => p));
    const isKnown = Uint8Array.from({ length: 25 }, (_, p) => (p % 2 === 0 ? 1 : 0));
    fillSmoothly(sheet, values, 1, isKnown);
    for (let p = 0; p < 25; p += 2) expect(values[p]).equal(p);
  });
});

describe('rows of weights', () => {
  const section = {
    influences: 4,
    jointIndices: Uint16Array.from([2, 0, 0, 0, 1, 3, 2, 0, 1, 1, 0, 0]),
    jointWeights: Float32Array.from([1, 0, 0, 0, 0.5, 0.3, 0.2, 0, 0.6, 0.4, 0, 0]),
  };

  it('keep what they say through the dense form, joints named twice added', () => {
    const dense = toDenseWeights(section, 4);
    expect([...dense].map((w) => Number(w.toFixed(4)))).deep.equal([
      0, 0, 1, 0, 0, 0.5, 0.2, 0.3, 0, 1, 0, 0,
    ]);
    const sparse = toSparseWeights(dense, 4, 4);
    expect([...sparse.jointIndices]).deep.equal([2, 0, 0, 0, 1, 3, 2, 0, 1, 0, 0, 0]);
    expect(sparse.jointWeights[5]).closeTo(0.3, 1e-6);
  });

  it('are limited, pruned and summed to one; an empty one takes the fallback', () => {
    const dense = Float32Array.from([0.5, 0.3, 0.15, 0.05, 0.02, 0, 0, 0, 0, 0, 0, 0]);
    const two = toSparseWeights(dense, 4, 4, { most: 2, fallback: 3 });
    expect([...two.jointIndices.slice(0, 4)]).deep.equal([0, 1, 0, 0]);
    expect(two.jointWeights[0]).closeTo(0.625, 1e-6);
    expect([two.jointIndices[4], two.jointWeights[4]]).deep.equal([0, 1]);
    expect([two.jointIndices[8], two.jointWeights[8]]).deep.equal([3, 1]);
    const pruned = toSparseWeights(dense, 4, 4, { least: 0.1 });
    expect([...pruned.jointWeights.slice(0, 4)].filter((w) => w > 0).length).equal(3);
    // The largest stays even when it is below the limit.
    expect(pruned.jointWeights[4]).equal(1);
  });

  it('hand the weight of all joints but the locked to one', () => {
    const dense = Float32Array.from([0.5, 0.3, 0.2, 0, 0, 0.1, 0.2, 0.7]);
    handOverWeights(dense, 4, new Set([1]), 3);
    expect([...dense].map((w) => Number(w.toFixed(4)))).deep.equal([0, 0.3, 0, 0.7, 0, 0.1, 0, 0.9]);
  });

  it('are smoothed where asked, with their sums kept', () => {
    const sheet = createGrid(6, 6, (u, v) => [u, v, 0]);
    const neighbours = buildNeighbours(buildEdgeTable(sheet.triangles, 49), 49);
    const dense = Float32Array.from({ length: 98 }, (_, i) =>
      Math.floor(i / 2) % 7 < 3 === (i % 2 === 0) ? 1 : 0,
    );
    const before = dense.slice();
    const strength = Float32Array.from({ length: 49 }, (_, p) => (p < 7 ? 0 : 0.5));
    smoothWeights(dense, 2, neighbours, strength, 4);
    expect([...dense.slice(0, 14)]).deep.equal([...before.slice(0, 14)]);
    for (const sum of sumsOf(dense, 2)) expect(sum).closeTo(1, 1e-5);
    const roughness = (values: Float32Array): number =>
      Array.from({ length: 6 }, (_, i) => Math.abs(values[2 * (28 + i)]! - values[2 * (29 + i)]!)).reduce(
        (p, q) => Math.max(p, q),
      );
    expect(roughness(before)).equal(1);
    expect(roughness(dense)).below(0.5);
  });
});

describe('weights of one joint set by hand', () => {
  it('take from the others in their ratio, and leave locked joints', () => {
    const dense = Float32Array.from([0.5, 0.3, 0.2, 0.1, 0.6, 0.3]);
    setJointWeights(dense, 3, 0, [0, 1], [0.75, 0.1]);
    expect([...dense].map((w) => Number(w.toFixed(4)))).deep.equal([0.75, 0.15, 0.1, 0.1, 0.6, 0.3]);
    setJointWeights(dense, 3, 0, [1], [0.9], new Set([2]));
    // A locked joint keeps 0.3: no more than 0.7 is there to take.
    expect([...dense.subarray(3)].map((w) => Number(w.toFixed(4)))).deep.equal([0.7, 0, 0.3]);
    setJointWeights(dense, 3, 2, [0], [1], new Set([2]));
    expect(dense[2]).closeTo(0.1, 1e-6);
  });

  it('stay whole where no other joint can take what is left', () => {
    const dense = Float32Array.from([1, 0, 0]);
    setJointWeights(dense, 3, 0, [0], [0.4]);
    expect([...dense]).deep.equal([1, 0, 0]);
    setJointWeights(dense, 3, 1, [0], [0.25]);
    expect([...dense]).deep.equal([0.75, 0.25, 0]);
  });

  it('tell which joint leads', () => {
    expect([...findDominantJoints(Float32Array.from([0.4, 0.6, 0.5, 0.5, 0, 0]), 2)]).deep.equal([1, 0, 0]);
  });
});
