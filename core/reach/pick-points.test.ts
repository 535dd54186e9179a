import { expect } from 'chai';
import { createSheet } from '../cloth/test-cloth.ts';
import { buildEdgeTable, buildNeighbours } from '../mesh/index.ts';
import {
  findBorderLoop,
  findEdgeLoop,
  growPoints,
  invertPoints,
  pickConnected,
  pickHeld,
  shrinkPoints,
} from './pick-points.ts';

/** A tube of 12 by 6 faces: row r holds points 13 r to 13 r + 12, the last joined to the first by a missing column. */
function createTube() {
  const columns = 12;
  const rows = 6;
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let r = 0; r <= rows; r++) {
    for (let c = 0; c < columns; c++) {
      const angle = (2 * Math.PI * c) / columns;
      positions.push(Math.cos(angle), -0.5 * r, Math.sin(angle));
    }
  }
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const [a, b] = [r * columns + c, r * columns + ((c + 1) % columns)];
      triangles.push(a, a + columns, b, b, a + columns, b + columns);
    }
  }
  const count = positions.length / 3;
  const table = buildEdgeTable(Uint32Array.from(triangles), count);
  return { positions: Float32Array.from(positions), table, neighbours: buildNeighbours(table, count), count };
}

const row = (r: number): number[] => Array.from({ length: 12 }, (_, c) => 12 * r + c);
const sorted = (points: Iterable<number>): number[] => [...points].sort((p, q) => p - q);
const members = (set: Uint8Array): number[] => [...set.keys()].filter((i) => set[i]);

describe('sets of points', () => {
  const tube = createTube();
  const toSet = (points: readonly number[]): Uint8Array =>
    Uint8Array.from({ length: tube.count }, (_, i) => (points.includes(i) ? 1 : 0));

  it('grow by a row and shrink back', () => {
    const grown = growPoints(tube.neighbours, toSet(row(3)));
    expect(members(grown)).deep.equal([...row(2), ...row(3), ...row(4)]);
    expect(members(shrinkPoints(tube.neighbours, grown))).deep.equal(row(3));
    expect(members(invertPoints(grown)).length).equal(tube.count - 36);
  });

  it('are the held points, or a whole connected piece', () => {
    expect(members(pickHeld(Float32Array.of(0, 0.1, 0, -0)))).deep.equal([0, 2, 3]);
    expect(members(pickConnected(tube.neighbours, toSet([40]))).length).equal(tube.count);
    const two = buildNeighbours(buildEdgeTable(Uint32Array.of(0, 1, 2, 3, 4, 5), 6), 6);
    expect(members(pickConnected(two, Uint8Array.of(0, 0, 0, 0, 1, 0)))).deep.equal([3, 4, 5]);
  });

  it('are a whole open border from any of its points, and no more', () => {
    expect(sorted(findBorderLoop(tube.table, 4))).deep.equal(row(0));
    expect(sorted(findBorderLoop(tube.table, 12 * 6 + 9))).deep.equal(row(6));
    expect(findBorderLoop(tube.table, 30)).deep.equal([]);
  });

  it('are a loop of edges that goes straight on: around the tube, or down to its borders', () => {
    expect(sorted(findEdgeLoop(tube.positions, tube.neighbours, 36, 37))).deep.equal(row(3));
    const down = sorted(findEdgeLoop(tube.positions, tube.neighbours, 36, 48));
    expect(down).deep.equal([0, 12, 24, 36, 48, 60, 72]);
  });

  it('of edges end at a sharp turn', () => {
    const { positions, triangles } = createSheet(4, 4, (u, v) => [u, -v, u > 0.5 ? u - 0.5 : 0]);
    const bent = positions.map((value, i) => (i % 3 === 0 && value > 0.5 ? 0.5 : value));
    const neighbours = buildNeighbours(buildEdgeTable(triangles, 25), 25);
    expect(sorted(findEdgeLoop(bent, neighbours, 10, 11))).deep.equal([10, 11, 12]);
  });
});
