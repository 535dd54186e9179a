import { expect } from 'chai';
import { packBodies } from '../bodies/index.ts';
import { createRandom } from '../math/index.ts';
import { buildEdgeTable, computeSurfaceDistance, remesh } from '../mesh/index.ts';
import { findEdgeChains, measureKink } from './compile/edge-chains.ts';
import { LANES, MOST_CHAIN_ROWS, NO_EDGE, packChains } from './compile/pack-chains.ts';
import { compileGarment } from './compiled-garment.ts';
import { createSheet, createTestCharacter } from './test-cloth.ts';

describe('a compiled garment', () => {
  const sheet = createSheet(7, 5, (u, v) => [u, -v, 0.1 * Math.sin(4 * u)]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);

  it('has every edge of the mesh once as a pair', () => {
    const { stretchPairs, stretchShape, pointCount, rowCount, triangles } = compileGarment(character, 0);
    const edges: string[] = [];
    for (let i = 0; i < triangles.length; i++) {
      const [a, b] = [triangles[i]!, triangles[i % 3 === 2 ? i - 2 : i + 1]!];
      edges.push(`${Math.min(a, b)}-${Math.max(a, b)}`);
    }
    const found: string[] = [];
    for (let s = 0; s < stretchShape.length; s++) {
      const [a, b] = [stretchPairs[2 * s]!, stretchPairs[2 * s + 1]!];
      expect(Math.max(a, b)).below(rowCount);
      if (stretchShape[s] === 0) continue;
      expect(Math.max(a, b)).below(pointCount);
      found.push(`${Math.min(a, b)}-${Math.max(a, b)}`);
    }
    expect(found.sort()).deep.equal([...new Set(edges)].sort());
  });

  it('counts its points along a curve, and can be read in the order of the channels', () => {
    const { weldedOfPoint, pointOfVertex, vertexOfPoint, restPositions, pointCount } = compileGarment(
      character,
      0,
    );
    expect([...weldedOfPoint].sort((p, q) => p - q)).deep.equal([...Array(pointCount).keys()]);
    for (let v = 0; v < pointOfVertex.length; v++) {
      expect(vertexOfPoint[pointOfVertex[v]!]).equal(v);
      expect(weldedOfPoint[pointOfVertex[v]!]).equal(v);
      for (let k = 0; k < 3; k++)
        expect(restPositions[4 * pointOfVertex[v]! + k]).equal(sheet.positions[3 * v + k]);
    }
    const natural = compileGarment(character, 0, { order: 'natural' });
    expect([...natural.weldedOfPoint]).deep.equal([...Array(pointCount).keys()]);
  });

  it('has the area of the mesh shared out among its points', () => {
    const flat = createSheet(6, 6, (u, v) => [2 * u, 0, v]);
    const { pointAreas, stretchShape, spacing } = compileGarment(
      createTestCharacter(flat.positions, flat.triangles),
      0,
    );
    expect(pointAreas.reduce((sum, area) => sum + area, 0)).closeTo(2, 1e-5);
    expect(Math.max(...stretchShape)).below(3);
    expect(spacing).within(1 / 6, 0.5);
  });

  it('knows which threads run with V of the UVs, turned or not', () => {
    const withUvs = createTestCharacter(sheet.positions, sheet.triangles);
    withUvs.sections[0]!.uvs = Float32Array.from({ length: 2 * 48 }, (_, i) => {
      const [u, v] = [sheet.positions[3 * (i >> 1)]!, sheet.positions[3 * (i >> 1) + 1]!];
      return i % 2 === 0 ? u : v;
    });
    const shareOf = (warpTurn: number, isDown: boolean): number => {
      const { stretchPairs, stretchShape, stretchWarp, restPositions } = compileGarment(withUvs, 0, {
        warpTurn,
      });
      for (let s = 0; s < stretchShape.length; s++) {
        const [a, b] = [4 * stretchPairs[2 * s]!, 4 * stretchPairs[2 * s + 1]!];
        const isVertical = restPositions[a] === restPositions[b];
        const isLevel = restPositions[a + 1] === restPositions[b + 1];
        if (stretchShape[s]! > 0 && (isDown ? isVertical : isLevel)) return stretchWarp[s]!;
      }
      return Number.NaN;
    };
    expect(shareOf(0, true)).closeTo(1, 1e-5);
    expect(shareOf(0, false)).closeTo(0, 1e-5);
    expect(shareOf(Math.PI / 2, true)).closeTo(0, 1e-5);
    expect(shareOf(Math.PI / 4, true)).closeTo(0.5, 0.02);
  });
});

/** Four numbers a vertex, as the solvers keep them. */
function toRows(positions: Float32Array): Float32Array {
  return Float32Array.from({ length: (4 * positions.length) / 3 }, (_, i) =>
    i % 4 < 3 ? positions[3 * Math.floor(i / 4) + (i % 4)]! : 0,
  );
}

describe('chains of edges', () => {
  it('are the lines of a grid, without a kink', () => {
    const { positions, triangles } = createSheet(9, 6, (u, v) => [9 * u, 6 * v, 0]);
    const rows = toRows(positions);
    const chains = findEdgeChains(buildEdgeTable(triangles, 70).edges, rows, 70);
    const lengths = chains.map(({ edges }) => edges.length);
    expect(lengths.slice(0, 7)).deep.equal(new Array(7).fill(9));
    expect(lengths.slice(7, 17)).deep.equal(new Array(10).fill(6));
    expect(measureKink(chains, rows)).closeTo(0, 1e-12);
  });

  it('are long on an irregular mesh, and turned with it the same', () => {
    const sheet = createSheet(20, 40, (u, v) => [0.4 * u, 0, 0.8 * v]);
    const { positions, triangles } = remesh(sheet, { edgeLength: 0.025 });
    const count = positions.length / 3;
    const { edges } = buildEdgeTable(triangles, count);
    const rows = toRows(positions);
    const chains = findEdgeChains(edges, rows, count);
    expect(chains.length).below(0.4 * count);
    expect(measureKink(chains, rows)).within(0.005, 0.05);
    const [c, s] = [Math.cos(1.1), Math.sin(1.1)];
    const turned = rows.map((value, i) =>
      i % 4 === 0 ? c * value - s * rows[i + 2]! : i % 4 === 2 ? s * rows[i - 2]! + c * value : value,
    );
    const again = findEdgeChains(edges, turned, count);
    expect(Math.abs(again.length - chains.length)).below(0.02 * chains.length);
  });

  it('hold every edge once and no vertex twice, whatever the graph, and are packed so', () => {
    const random = createRandom(5);
    for (let round = 0; round < 50; round++) {
      const points = 2 + Math.floor(160 * random());
      const names = new Set<string>();
      for (let s = Math.floor(400 * random()); s > 0; s--) {
        const a = Math.floor(points * random());
        const b = (a + 1 + Math.floor((points - 1) * random())) % points;
        names.add(`${Math.min(a, b)} ${Math.max(a, b)}`);
      }
      const edges = Uint32Array.from([...names].flatMap((name) => name.split(' ').map(Number)));
      const rows = Float32Array.from({ length: 4 * points }, () => random());
      const chains = findEdgeChains(edges, rows, points);
      for (const chain of chains) {
        expect(new Set(chain.points).size).equal(chain.edges.length + 1);
        chain.edges.forEach((edge, i) => {
          const ends = [...edges.subarray(2 * edge, 2 * edge + 2)].sort((p, q) => p - q);
          expect(ends).deep.equal([chain.points[i]!, chain.points[i + 1]!].sort((p, q) => p - q));
        });
      }
      expectPacked(packChains(chains, points, points), edges, points);
    }
  });
});

function expectPacked(
  { edges: slots, pairs, batchStart }: ReturnType<typeof packChains>,
  edges: Uint32Array,
  pointCount: number,
): void {
  expect([...slots].filter((e) => e !== NO_EDGE).sort((p, q) => p - q)).deep.equal([
    ...Array(edges.length / 2).keys(),
  ]);
  for (let batch = 0; batch + 1 < batchStart.length; batch++) {
    const [first, end] = [batchStart[batch]!, batchStart[batch + 1]!];
    expect(end - first).within(1, MOST_CHAIN_ROWS);
    const laneOf = new Map<number, number>();
    for (let s = LANES * first; s < LANES * end; s++) {
      const lane = s % LANES;
      if (s >= LANES * (first + 1)) expect(pairs[2 * s]).equal(pairs[2 * (s - LANES) + 1]);
      for (const point of [pairs[2 * s]!, pairs[2 * s + 1]!]) {
        expect(laneOf.get(point) ?? lane, 'a point is in one lane').equal(lane);
        laneOf.set(point, lane);
      }
      // Every vertex is come to once.
      if (slots[s] !== NO_EDGE) expect(Math.max(pairs[2 * s]!, pairs[2 * s + 1]!)).below(pointCount);
    }
  }
}

describe('distance along a surface', () => {
  it('is straight on a flat sheet, and names the nearest source', () => {
    const { positions, triangles } = createSheet(12, 12, (u, v) => [u, v, 0]);
    const isSource = new Uint8Array(169);
    isSource[0] = 1;
    isSource[168] = 1;
    const { distances, sources } = computeSurfaceDistance(positions, triangles, isSource);
    for (let i = 0; i < 169; i++) {
      const [x, y] = [positions[3 * i]!, positions[3 * i + 1]!];
      const [near, far] = [Math.hypot(x, y), Math.hypot(1 - x, 1 - y)];
      expect(distances[i]! / Math.max(1e-6, Math.min(near, far))).within(isSource[i] ? 0 : 1 - 1e-6, 1.02);
      if (Math.abs(near - far) > 0.1) expect(sources[i]).equal(near < far ? 0 : 168);
    }
  });

  it('goes around a cylinder, not through it', () => {
    const { positions, triangles } = createSheet(64, 8, (u, v) => [
      Math.cos(Math.PI * u),
      v,
      Math.sin(Math.PI * u),
    ]);
    const isSource = new Uint8Array(65 * 9);
    for (let r = 0; r < 9; r++) isSource[65 * r] = 1;
    const { distances } = computeSurfaceDistance(positions, triangles, isSource);
    expect(distances[64 + 65 * 4]).closeTo(Math.PI, 0.03);
  });

  it('is endless where no source is joined', () => {
    const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 5, 1, 0);
    const { distances, sources } = computeSurfaceDistance(
      positions,
      Uint32Array.of(0, 1, 2, 3, 4, 5),
      Uint8Array.of(1, 0, 0, 0, 0, 0),
    );
    expect([...sources]).deep.equal([0, 0, 0, -1, -1, -1]);
    expect(distances[4]).equal(Number.POSITIVE_INFINITY);
  });
});

describe('packed bodies', () => {
  it('make a sphere of a capsule whose larger end swallows the other', () => {
    const { rows } = packBodies([
      { kind: 'taperedCapsule', node: 0, a: [0, 0, 0], b: [0, 0.1, 0], radiusA: 0.3, radiusB: 0.1 },
    ]);
    expect([...rows].map((value) => Number(value.toFixed(3)))).deep.equal([0, 0, 0, 0.3, 0, 0, 0, 0.3]);
  });
});
