import { expect } from 'chai';
import type { Surface } from '../surface.ts';
import { createGrid, createRandomSurface, createTube } from '../test-surfaces.ts';
import { createSquare, createTouching } from '../test-ugly.ts';
import { checkMesh } from './check-mesh.ts';
import { createCheckedMesh, type HealthInput } from './checked-mesh.ts';
import { listCrossedDiagonals } from './find-crossed-diagonals.ts';
import { listFlippedFaces } from './find-flipped-faces.ts';
import { groupSeamPoints } from './find-unwelded-seams.ts';
import { HEALTH_LIMITS } from './health-limits.ts';
import type { FindingKind, MeshFinding } from './mesh-finding.ts';
import { pairShells } from './pair-shells.ts';

const COLUMNS = 20;
const ROWS = 16;

/** A turned, waved sheet with UVs of its own proportions; nothing is wrong with it. */
function createSound(): HealthInput & { uvs: Float32Array } {
  const sheet = createGrid(COLUMNS, ROWS, (u, v) => {
    const [x, y, z] = [u, 0.8 * v, 0.04 * Math.sin(4 * u)];
    return [0.8 * x - 0.6 * z + 3, y - 1, 0.6 * x + 0.8 * z];
  });
  const uvs = new Float32Array((2 * sheet.positions.length) / 3);
  for (let i = 0; i < uvs.length / 2; i++) {
    uvs.set([(i % (COLUMNS + 1)) / COLUMNS, (0.8 * Math.floor(i / (COLUMNS + 1))) / ROWS], 2 * i);
  }
  return { ...sheet, uvs };
}

function find(input: HealthInput, kind: FindingKind): MeshFinding | undefined {
  return checkMesh(input).find((finding) => finding.kind === kind);
}

function expectOnly(input: HealthInput, ...kinds: FindingKind[]): void {
  expect(
    checkMesh(input)
      .map(({ kind }) => kind)
      .sort(),
  ).deep.equal(kinds.sort());
}

/** The sheet in two halves, the second moved so far (m) along x and y: each with its own points on the cut. */
function splitAt(input: HealthInput & { uvs: Float32Array }, column: number, gap: number): HealthInput {
  const positions = Array.from(input.positions);
  const uvs = Array.from(input.uvs);
  const twin = new Map<number, number>();
  const triangles = input.triangles.slice();
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [0, 1, 2].map((k) => input.triangles[t + k]! % (COLUMNS + 1));
    if (Math.max(...corners) <= column) continue;
    for (let k = 0; k < 3; k++) {
      const vertex = input.triangles[t + k]!;
      if (vertex % (COLUMNS + 1) !== column) continue;
      if (!twin.has(vertex)) {
        twin.set(vertex, positions.length / 3);
        positions.push(positions[3 * vertex]! + gap, positions[3 * vertex + 1]!, positions[3 * vertex + 2]!);
        uvs.push(uvs[2 * vertex]!, uvs[2 * vertex + 1]!);
      }
      triangles[t + k] = twin.get(vertex)!;
    }
  }
  return { positions: Float32Array.from(positions), triangles, uvs: Float32Array.from(uvs) };
}

describe('limits of the checks', () => {
  const sheet = createSound();

  it('are those of the table, each of which changes what is found', () => {
    expectOnly(sheet);
    for (const [name, kind, low] of [
      ['sliverAngle', 'sliver', 50],
      ['spacingSpread', 'unevenSpacing', 1.1],
      ['uvStretch', 'uvStretch', 1],
    ] as const) {
      const strict = find({ ...sheet, limits: { [name]: low } }, kind)!;
      expect(strict.limit, name).equal(low);
      const { most } = HEALTH_LIMITS.find((limit) => limit.name === name)!;
      const lax = find({ ...sheet, limits: { [name]: name === 'sliverAngle' ? 0 : most } }, kind);
      expect(lax, name).equal(undefined);
    }
    const severe = find({ ...sheet, limits: { severeSliverAngle: 50 } }, 'sliver')!;
    expect(severe).include({ severity: 'severe', limit: 50 });
    const moved = {
      name: 'lean',
      positions: sheet.positions.map((value, i) => (i % 3 === 0 ? 1.1 * value : value)),
    };
    expect(find({ ...sheet, poses: [moved] }, 'poseStretch')).equal(undefined);
    expect(find({ ...sheet, poses: [moved], limits: { poseStretch: 5 } }, 'poseStretch')!.limit).equal(5);
    const jumps = find({ ...sheet, limits: { spacingSpread: 100, spacingJump: 1.001 } }, 'unevenSpacing')!;
    expect(jumps.limit).equal(1.001);
    // Four vertices of the corner lie where the next ones do: some UV area is there twice.
    const uvs = Float32Array.from(sheet.uvs, (value, i) => (i < 8 ? sheet.uvs[i + 8]! : value));
    const shared = find({ ...sheet, uvs, limits: { uvOverlap: 0 } }, 'uvOverlap')!;
    expect(shared.measured).within(0.01, 5);
    expect(find({ ...sheet, uvs, limits: { uvOverlap: 2 * shared.measured } }, 'uvOverlap')).equal(undefined);
  });

  it('stand within their ranges by themselves', () => {
    for (const { standard, least, most } of HEALTH_LIMITS) expect(standard).within(least, most);
  });
});

describe('normals and weights', () => {
  const sheet = createSound();
  const count = sheet.positions.length / 3;
  const normals = Float32Array.from({ length: 3 * count }, (_, i) =>
    i % 3 === 0 ? -0.6 : i % 3 === 1 ? 0 : 0.8,
  );

  it('that are sound are passed over, as are those rounded to eight bits', () => {
    expectOnly({ ...sheet, normals, weightless: new Uint8Array(count) });
    const rounded = normals.map((value) => Math.round(127 * value) / 127);
    expectOnly({ ...sheet, normals: rounded });
  });

  it('that are zero, long or no numbers are found where they are', () => {
    const broken = normals.slice();
    broken.fill(0, 15, 18);
    broken.set([0, 3, 0], 60);
    broken[90] = Number.NaN;
    const found = find({ ...sheet, normals: broken }, 'badNormal')!;
    expect([...found.vertices]).deep.equal([5, 20, 30]);
    expect(found).include({ count: 3, severity: 'warning', fix: 'mendNormals' });
    expect(found.sentence).contain('2 of them point nowhere');
    expect(
      find({ ...sheet, normals: normals.map((n, i) => (i < 3 ? Number.NaN : n)) }, 'badNormal')!.measured,
    ).equal(0);
  });

  it('that no triangle uses do not count', () => {
    const positions = Float32Array.of(...sheet.positions, 0, 0, 0);
    const more = { ...sheet, positions, uvs: Float32Array.of(...sheet.uvs, 0, 0) };
    expectOnly({
      ...more,
      normals: Float32Array.of(...normals, 0, 0, 0),
      weightless: Uint8Array.of(...new Uint8Array(count), 1),
    });
  });

  it('of vertices that came without are severe', () => {
    const weightless = new Uint8Array(count);
    weightless[7] = 1;
    weightless[9] = 1;
    const found = find({ ...sheet, weightless }, 'weightless')!;
    expect([...found.vertices]).deep.equal([7, 9]);
    expect(found.severity).equal('severe');
  });
});

describe('health of a mesh', () => {
  it('finds nothing wrong with a sound sheet, nor with a tube', () => {
    expectOnly(createSound());
    const tube = createTube(40, 24, (v) => 0.15 + 0.1 * v);
    expectOnly({ ...tube, uvs: null }, 'uvMissing');
  });

  it('finds a seam whose sides were rounded apart, with its widest gap', () => {
    const open = splitAt(createSound(), 10, 0.0008);
    const seam = find(open, 'unweldedSeam')!;
    expect(seam.count).equal(ROWS + 1);
    expect(seam.vertices.length).equal(2 * (ROWS + 1));
    expect(seam.measured).closeTo(0.8, 0.01);
    expect(seam.severity).equal('severe');
    expect(find(open, 'loosePiece')!.count).equal(1);
    // Sides at the very same places are one cloth: only UVs or normals differ there.
    expect(find(splitAt(createSound(), 10, 0), 'unweldedSeam')).equal(undefined);
    // Sides a good part of an edge apart are two cloths.
    expect(find(splitAt(createSound(), 10, 0.03), 'unweldedSeam')).equal(undefined);
  });

  it('does not take a short edge on a border for a seam', () => {
    const sheet = createSound();
    const positions = sheet.positions.slice();
    for (let k = 0; k < 3; k++) positions[k] = 0.92 * positions[3 + k]! + 0.08 * positions[k]!;
    expect(groupSeamPoints(createCheckedMesh({ ...sheet, positions }))).deep.equal([]);
  });

  it('finds triangles without an area and slivers, and tells doubled faces', () => {
    const sheet = createSound();
    const collapsed = { ...sheet, triangles: Uint32Array.from([...sheet.triangles, 30, 30, 31]) };
    expect(find(collapsed, 'sliver')!.count).equal(1);
    expect(find(collapsed, 'sliver')).include({ measured: 0, severity: 'severe', limit: 1 });
    const doubled = {
      ...sheet,
      triangles: Uint32Array.from([...sheet.triangles, ...sheet.triangles.slice(30, 36)]),
    };
    const finding = find(doubled, 'duplicateFace')!;
    expect(finding.count).equal(2);
    // Their edges have too many triangles, but that is no fault of its own.
    expect(find(doubled, 'nonManifoldEdge')).equal(undefined);
    const thin = sheet.positions.slice();
    const [a, b] = [3 * 100, 3 * 101];
    for (let k = 0; k < 3; k++) thin[a + k] = thin[a + k]! + 0.97 * (thin[b + k]! - thin[a + k]!);
    const sliver = find({ ...sheet, positions: thin }, 'sliver')!;
    expect(sliver.count).within(1, 2);
    expect(sliver.measured).within(0.01, 4);
    expect(sliver.severity).equal(sliver.measured < 1 ? 'severe' : 'warning');
    // A square whose middle lies near a side, as low-poly meshes have it: thin, and no more than a warning.
    const low = (height: number): HealthInput => {
      const square = createSquare(1, 4);
      square.positions[13] = height;
      return { ...square, uvs: null };
    };
    expect(find(low(0.03), 'sliver')).include({ count: 1, severity: 'warning', limit: 4 });
    expect(find(low(0.005), 'sliver')).include({ count: 1, severity: 'severe', limit: 1 });
  });

  it('finds edges with three triangles', () => {
    const sheet = createSound();
    const fin = sheet.positions.length / 3;
    const positions = Float32Array.from([...sheet.positions, 3.4, -0.6, 0.5]);
    const uvs = Float32Array.from([...sheet.uvs, 2, 2]);
    const finding = find(
      { positions, uvs, triangles: Uint32Array.from([...sheet.triangles, 115, 116, fin]) },
      'nonManifoldEdge',
    )!;
    expect(finding.count).equal(1);
    expect([...finding.vertices].sort()).deep.equal([115, 116]);
    // A triangle that lies on one of the three, too, hides none of it.
    const along = [115, 116];
    const beside = Array.from({ length: sheet.triangles.length / 3 }, (_, t) =>
      Array.from(sheet.triangles.subarray(3 * t, 3 * t + 3)),
    ).find((corners) => along.every((point) => corners.includes(point)))!;
    const both = Uint32Array.from([...sheet.triangles, 115, 116, fin, ...beside]);
    expect(find({ positions, uvs, triangles: both }, 'nonManifoldEdge')!.count).equal(1);
    expect(find({ positions, uvs, triangles: both }, 'duplicateFace')!.count).equal(1);
  });

  it('finds parts that meet in a point alone, and no rim of a hole', () => {
    const { positions, triangles } = createTouching(0.5);
    const finding = find({ positions, triangles, uvs: null }, 'touchingPoint')!;
    expect(finding).include({ count: 1, severity: 'warning' });
    expect([...finding.vertices]).deep.equal([2]);
    const holed = createRandomSurface(2);
    expect(find({ ...holed, uvs: null }, 'touchingPoint')).equal(undefined);
  });

  it('finds faces turned round, and only those', () => {
    const sheet = createSound();
    const triangles = sheet.triangles.slice();
    for (const t of [40, 41, 42, 300]) {
      [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2]!, triangles[3 * t + 1]!];
    }
    expect(listFlippedFaces(createCheckedMesh({ ...sheet, triangles }))).deep.equal([40, 41, 42, 300]);
    expect(find({ ...sheet, triangles }, 'flippedFace')!.count).equal(4);
    expect(listFlippedFaces(createCheckedMesh(sheet))).deep.equal([]);
  });

  it('finds a thin row in an even sheet, and the uneven spacing that comes with it', () => {
    const sheet = createSound();
    const rows = createGrid(COLUMNS, ROWS, (u, v) => [u, 0.8 * (v > 0.99 ? 1 : v > 0.93 ? 0.996 : v), 0]);
    const finding = find({ ...sheet, positions: rows.positions }, 'thinRow')!;
    expect(finding.count).equal(2 * COLUMNS);
    expect(finding.measured).closeTo(3.2, 0.1);
    expect(finding.fix).equal('joinRows');
    expect(find({ ...sheet, positions: rows.positions }, 'sliver')).equal(undefined);
  });

  it('finds spacing that differs widely, and spacing that jumps', () => {
    const graded = createGrid(40, 40, (u, v) => [u ** 4 + 0.02 * u, v ** 4 + 0.02 * v, 0]);
    expect(find({ ...graded, uvs: null }, 'unevenSpacing')!.measured).above(4);
    const even = createGrid(40, 40, (u, v) => [u, v * (1 + 0.3 * v), 0]);
    expect(find({ ...even, uvs: null }, 'unevenSpacing')).equal(undefined);
  });

  it('finds pieces that are not joined, largest first', () => {
    const sheet = createSound();
    const patch = createGrid(3, 3, (u, v) => [0.1 * u + 5, 0.1 * v, 0]);
    const offset = sheet.positions.length / 3;
    const both = {
      positions: Float32Array.from([...sheet.positions, ...patch.positions]),
      triangles: Uint32Array.from([...patch.triangles.map((v) => v + offset), ...sheet.triangles]),
      uvs: null,
    };
    const finding = find(both, 'loosePiece')!;
    expect(finding.count).equal(1);
    expect([...finding.vertices].every((vertex) => vertex >= offset)).equal(true);
    expect(finding.measured).closeTo((100 * 0.01) / 0.83, 0.2);
  });

  it('finds stretch between the bind pose and the poses it plays in, by the mildest of them', () => {
    const sheet = createSound();
    const scaled = (by: number): Float32Array =>
      sheet.positions.map((value, i) => (i % 3 === 1 ? by * value : value));
    const poses = [
      { name: 'wild', positions: scaled(2) },
      { name: 'mild', positions: scaled(1.3) },
    ];
    const finding = find({ ...sheet, poses }, 'poseStretch')!;
    expect(finding.measured).closeTo(30, 1);
    expect(finding.sentence).contain('"mild"');
    expect(
      find({ ...sheet, poses: [...poses, { name: 'still', positions: scaled(1.02) }] }, 'poseStretch'),
    ).equal(undefined);
  });

  it('lets cloth be pressed three times as much as stretched: it folds', () => {
    const sheet = createSound();
    const inPose = (by: number) => {
      const positions = sheet.positions.map((value, i) => (i % 3 === 1 ? by * value : value));
      return find({ ...sheet, poses: [{ name: 'bow', positions }] }, 'poseStretch');
    };
    expect(inPose(0.65)).equal(undefined);
    expect(inPose(1.25)!.measured).closeTo(25, 1);
    expect(inPose(0.4)!.measured).closeTo(20, 1);
  });

  it('finds what is wrong with UVs: overlap, mirrored faces, stretch, tiny islands', () => {
    const sheet = createSound();
    expectOnly(
      { ...sheet, uvs: sheet.uvs.map((value, i) => (i % 2 === 0 ? Math.abs(value - 0.5) : value)) },
      'uvFlip',
      'uvOverlap',
    );
    expectOnly(
      { ...sheet, uvs: sheet.uvs.map((value, i) => (i % 2 === 0 ? 4 * value : value)) },
      'uvStretch',
    );
    const small = createGrid(1, 1, (u, v) => [0.02 * u + 7, 0.02 * v, 0]);
    const withSmall = {
      positions: Float32Array.from([...sheet.positions, ...small.positions]),
      triangles: Uint32Array.from([
        ...sheet.triangles,
        ...small.triangles.map((v) => v + sheet.positions.length / 3),
      ]),
      uvs: Float32Array.from([...sheet.uvs, 2, 0, 2.02, 0, 2, 0.02, 2.02, 0.02]),
    };
    expect(find(withSmall, 'uvTinyIsland')!.count).equal(1);
  });
});

/** Two tubes, one within the other facing inward, `thickness` apart; the inner's diagonals turned where asked. */
function createTwoSided(thickness: number, isTurned: (square: number) => boolean): Surface {
  const [columns, rows] = [36, 20];
  const outer = createTube(columns, rows, (v) => 0.2 + 0.1 * v);
  const inner = createTube(columns, rows, (v) => 0.2 + 0.1 * v - thickness);
  const offset = outer.positions.length / 3;
  const triangles = [...outer.triangles];
  for (let square = 0; square < columns * rows; square++) {
    const [a, b, c, , , d] = inner.triangles.subarray(6 * square, 6 * square + 6) as unknown as number[];
    const faces = isTurned(square) ? [a, d, b, b, d, c] : [a, c, b, a, d, c];
    triangles.push(...faces.map((v) => v! + offset));
  }
  return {
    positions: Float32Array.from([...outer.positions, ...inner.positions]),
    triangles: Uint32Array.from(triangles),
  };
}

describe('the two sides of a garment', () => {
  const flip = (surface: Surface): Surface => ({
    ...surface,
    triangles: surface.triangles.map((_, i) => surface.triangles[i - (i % 3) + [0, 2, 1][i % 3]!]!),
  });

  it('are paired point by point when they face away from each other', () => {
    const made = createTwoSided(0.004, () => false);
    const count = made.positions.length / 6;
    // Turned about, the two sides face each other: two cloths, not two sides of one.
    for (const [surface, expected] of [
      [made, count],
      [flip(made), 0],
    ] as const) {
      const mesh = createCheckedMesh({ ...surface, uvs: null });
      const partner = pairShells(mesh);
      expect(partner.filter((q, p) => q === p + count).length).equal(expected);
    }
  });

  it('have diagonals that disagree where the inner was cut the other way', () => {
    const turned = new Set([0, 5, 77, 300]);
    const surface = createTwoSided(0.004, (square) => turned.has(square));
    const mesh = createCheckedMesh({ ...surface, uvs: null });
    const crossed = listCrossedDiagonals(mesh);
    expect(crossed.length).equal(turned.size);
    const count = mesh.pointCount / 2;
    expect(crossed.every((e) => mesh.table.edges[2 * e]! >= count)).equal(true);
    expect(find({ ...surface, uvs: null }, 'crossedDiagonal')!.fix).equal('alignDiagonals');
    const aligned = createCheckedMesh({ ...createTwoSided(0.004, () => false), uvs: null });
    expect(listCrossedDiagonals(aligned)).deep.equal([]);
  });
});
