import { expect } from 'chai';
import fc from 'fast-check';
import { SpatialIndex } from '../../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { createGrid, createRandomSurface, createTube } from '../test-surfaces.ts';
import { EditableMesh } from './editable-mesh.ts';
import { measureBorderDeviation, measureSmallestAngles, measureSurface } from './measure-surface.ts';
import { remesh } from './remesh.ts';

/** Points less edges plus triangles: the same for surfaces of the same form. */
function countEuler({ positions, triangles }: Surface): number {
  const table = buildEdgeTable(triangles, positions.length / 3);
  expect(table.nonManifold.length).equal(0);
  return positions.length / 3 - table.edgeCount + triangles.length / 3;
}

function measureArea({ positions: p, triangles }: Surface): number {
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * triangles[t + k]!) as [number, number, number];
    const u = [0, 1, 2].map((k) => p[b + k]! - p[a + k]!) as [number, number, number];
    const v = [0, 1, 2].map((k) => p[c + k]! - p[a + k]!) as [number, number, number];
    area += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return area;
}

function measureFarthestFrom(surface: Surface, source: Surface): number {
  const index = new SpatialIndex(source.positions.slice(), source.triangles);
  let worst = 0;
  for (let i = 0; i < surface.positions.length; i += 3) {
    const [x, y, z] = surface.positions.subarray(i, i + 3);
    worst = Math.max(worst, index.findClosest(x!, y!, z!)!.distance);
  }
  return worst;
}

describe('remeshing', () => {
  for (let seed = 0; seed < 20; seed++) {
    it(`makes even triangles of random surface ${seed}`, () => {
      const source = createRandomSurface(seed);
      const edgeLength = 0.03;
      const made = remesh(source, { edgeLength, borderDetail: 0.5 });
      const figures = measureSurface(made, edgeLength);
      expect(figures.withinTarget).above(0.95);
      expect(figures.smallestAngleP99).above(25);
      expect(countEuler(made)).equal(countEuler(source));
      expect(measureFarthestFrom(made, source)).below(1e-3 * edgeLength);
      expect(measureArea(made)).closeTo(measureArea(source), 0.02 * measureArea(source));
    });
  }

  it('follows borders within 2 % of the edge length at full detail, and less closely without', () => {
    for (const seed of [1, 5, 7]) {
      const source = createRandomSurface(seed);
      const fine = remesh(source, { edgeLength: 0.05, borderDetail: 1 });
      const coarse = remesh(source, { edgeLength: 0.05, borderDetail: 0 });
      expect(measureBorderDeviation(fine, source)).below(0.02 * 0.05);
      expect(measureBorderDeviation(coarse, source)).above(measureBorderDeviation(fine, source));
      expect(coarse.positions.length).below(fine.positions.length);
      expect(measureSurface(fine).smallestAngleP99).above(25);
    }
  });

  it('makes a coarse mesh finer, and keeps the corners of a flat sheet', () => {
    const made = remesh(
      createGrid(4, 4, (u, v) => [u + 0.2, v, 0]),
      { edgeLength: 0.05 },
    );
    expect(measureSurface(made, 0.05).withinTarget).above(0.95);
    expect(measureArea(made)).closeTo(1, 1e-6);
    for (const corner of [
      [0.2, 0],
      [1.2, 0],
      [0.2, 1],
      [1.2, 1],
    ]) {
      const found = Array.from({ length: made.positions.length / 3 }, (_, i) => 3 * i).some(
        (i) => Math.hypot(made.positions[i]! - corner[0]!, made.positions[i + 1]! - corner[1]!) < 1e-6,
      );
      expect(found, corner.join()).equal(true);
    }
  });

  it('keeps the mirror symmetry of a source that has it, and makes none where it has not', () => {
    const tube = createTube(90, 50, (v) => 0.15 + 0.2 * v);
    const made = remesh(tube, { edgeLength: 0.04 });
    const places = new Set<string>();
    for (let i = 0; i < made.positions.length; i += 3) places.add(made.positions.subarray(i, i + 3).join());
    for (let i = 0; i < made.positions.length; i += 3) {
      const [x, y, z] = made.positions.subarray(i, i + 3);
      expect(places.has([-x! + 0, y, z].join()), `partner of ${x} ${y} ${z}`).equal(true);
    }
    expect(countEuler(made)).equal(0);
    const onPlane = made.positions.filter((value, i) => i % 3 === 0 && value === 0).length;
    expect(onPlane).above(10);
    const lopsided = createTube(90, 50, (v, angle) => 0.15 + 0.2 * v + 0.06 * v * Math.cos(angle));
    const other = remesh(lopsided, { edgeLength: 0.04 });
    expect(other.positions.filter((value, i) => i % 3 === 0 && value === 0).length).below(3);
  });

  it('keeps sharp lines, and lines that it is asked to keep', () => {
    const roof = createGrid(30, 20, (u, v) => [u + 0.1, v, 0.4 * Math.abs(u - 0.5)]);
    const made = remesh(roof, { edgeLength: 0.06, sharpAngle: 0.5 });
    const ridge: number[] = [];
    for (let i = 0; i < made.positions.length; i += 3) {
      if (Math.abs(made.positions[i]! - 0.6) < 1e-6) ridge.push(made.positions[i + 1]!);
    }
    expect(ridge.length).within(13, 22);
    const flat = createGrid(30, 20, (u, v) => [u + 0.1, v, 0]);
    const lines = Uint32Array.from({ length: 40 }, (_, i) => 31 * Math.floor((i + 1) / 2) + 12);
    const withLine = remesh(flat, { edgeLength: 0.06, lines });
    const onLine = withLine.positions.filter((x, i) => i % 3 === 0 && Math.abs(x - 0.5) < 1e-6);
    expect(onLine.length).within(13, 22);
  });

  it('gives the same bytes for the same source', () => {
    const [one, two] = [0, 0].map(() => remesh(createRandomSurface(5), { edgeLength: 0.04 })) as [
      Surface,
      Surface,
    ];
    expect(one.positions).deep.equal(two.positions);
    expect(one.triangles).deep.equal(two.triangles);
  });

  it('can be cancelled between passes, and tells how far it is', () => {
    const shares: number[] = [];
    const cancel = (share: number): void => {
      shares.push(share);
      if (share > 0.3) throw new Error('cancelled');
    };
    expect(() => remesh(createRandomSurface(3), { edgeLength: 0.04, onProgress: cancel })).throw('cancelled');
    expect(shares.length).within(3, 5);
    expect(shares[0]).equal(0);
  });

  it('refuses an edge length that is none, and leaves a source without triangles', () => {
    expect(() => remesh(createRandomSurface(3), { edgeLength: 0 })).throw(RangeError, 'above 0');
    expect(() => remesh(createRandomSurface(3), { edgeLength: Number.NaN })).throw(RangeError);
    const none = { positions: new Float32Array(9), triangles: new Uint32Array(0) };
    expect(remesh(none, { edgeLength: 0.1 })).equal(none);
  });

  it('survives slivers, triangles without an area and edges with three triangles', () => {
    const sheet = createGrid(12, 12, (u, v) => [u + 0.3, v * v * v, 0.05 * Math.sin(9 * u)]);
    const fin = sheet.positions.length / 3;
    const broken: Surface = {
      positions: Float32Array.from([...sheet.positions, 0.8, 0.4, 0.3]),
      triangles: Uint32Array.from([...sheet.triangles, 80, 81, fin, 3, 4, 5]),
    };
    const made = remesh(broken, { edgeLength: 0.07 });
    expect(made.triangles.length).above(300);
    expect(made.positions.every(Number.isFinite)).equal(true);
  });
});

describe('a mesh that can be edited', () => {
  it('stays a whole surface through random splits, collapses and flips', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 2 }), fc.nat()), { maxLength: 120 }),
        (acts) => {
          const source = createGrid(6, 5, (u, v) => [u, v, 0.1 * u * v]);
          const mesh = new EditableMesh(source);
          for (const [act, pick] of acts) {
            const edges = mesh.listEdges();
            const at = 2 * (pick % (edges.length / 2));
            const [a, b] = [edges[at]!, edges[at + 1]!];
            if (act === 0) mesh.split(a, b, [pick % 7, pick % 5, pick % 3]);
            else if (act === 1 && mesh.canCollapse(a, b)) mesh.collapse(a, b);
            else if (act === 2) mesh.flip(a, b);
          }
          const { surface } = mesh.compact();
          expect(countEuler(surface)).equal(1);
          const table = buildEdgeTable(surface.triangles, surface.positions.length / 3);
          // Wound alike: each inner edge runs one way in one triangle and the other way in the other.
          for (let e = 0; e < table.edgeCount; e++) {
            const [t, other] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
            if (other === NO_TRIANGLE) continue;
            expect(runsForward(surface, t, table.edges, e)).not.equal(
              runsForward(surface, other, table.edges, e),
            );
          }
          const borders = mesh.isBorder.filter((isBorder, p) => isBorder && mesh.isAlive(p)).length;
          const open = Array.from({ length: table.edgeCount }, (_, e) => e).filter(
            (e) => table.triangles[2 * e + 1] === NO_TRIANGLE,
          );
          expect(borders).equal(open.length);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('tells the smallest angle of a triangle', () => {
    const surface = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]),
      triangles: Uint32Array.of(0, 1, 2),
    };
    expect(measureSmallestAngles(surface)[0]).closeTo(45, 1e-4);
    expect(measureSmallestAngles({ ...surface, triangles: Uint32Array.of(0, 0, 1) })[0]).equal(0);
  });
});

function runsForward({ triangles }: Surface, t: number, edges: Uint32Array, e: number): boolean {
  const k = [0, 1, 2].find((corner) => triangles[3 * t + corner] === edges[2 * e])!;
  return triangles[3 * t + ((k + 1) % 3)] === edges[2 * e + 1];
}
