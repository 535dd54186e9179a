import { createRandom, SpatialIndex } from '../core/math/index.ts';
import { computeVertexNormals } from '../core/mesh/index.ts';
import { type Character, rebuildSection, type Section } from '../core/rig/index.ts';
import { PONCHO } from './garments/poncho.ts';
import type { Position } from './garments/sheet.ts';
import { findGrid } from './garments/sheet-layouts.ts';
import { triangulateGrid } from './garments/triangulate-grid.ts';

const THICKNESS = 0.005;

/**
 * The Ferry pilot as a hurried export delivers it: the poncho has two sides, and every fault that the checks of a mesh
 * look for. Its skin weights are those of the nearest body vertex, legs and hands included.
 *
 * Faults: a seam whose sides are rounded apart, thin rows, needles, doubled and turned faces, squares cut differently
 * inside and out, a badge that is not joined, and a bind pose with the arms out that no clip plays in.
 */
export function createFaultyDelivery(pilot: Character): Character {
  const body = pilot.sections.find((section) => section.name === 'Body')!;
  const poncho = pilot.sections.find((section) => section.name === 'Poncho')!;
  const coat = {
    ...addPiping({ ...poncho, uvs: findGrid('Poncho', poncho.uvs!) }),
    name: 'Oilskin coat',
    meshName: 'Oilskin coat',
    materialName: 'Oilskin coat',
  };
  const faulty = copyNearestWeights(addFaults(addBadge(addInside(coat))), body);
  return {
    ...pilot,
    name: 'Ferry pilot, as delivered',
    sections: pilot.sections.map((section) => (section === poncho ? faulty : section)),
  };
}

/** Vertices of a row of the sheet; the last stands where the first does, across the UV seam. */
const ROW = PONCHO.columns + 1;

const PIPING = { height: 0.007, color: [0.55, 0.47, 0.33] };

/** A hem piping modelled as two thin rows, the first rounded outward. */
function addPiping(sheet: Section): Section {
  const count = sheet.positions.length / 3;
  const hem = count - ROW;
  const sources = Array.from({ length: count + 2 * ROW }, (_, v) =>
    v < count ? v : hem + ((v - count) % ROW),
  );
  const rows = triangulateGrid(ROW - 1, 2).map((v) => hem + v);
  const made = rebuildSection(sheet, sources, Uint32Array.from([...sheet.triangles, ...rows]));
  for (let v = count; v < sources.length; v++) {
    const isRound = v < count + ROW;
    const [out, down] = isRound ? [0.0035, 0.4 * PIPING.height] : [0.001, PIPING.height];
    const [at, above] = [3 * sources[v]!, 3 * (sources[v]! - ROW)];
    const [x, y, z] = sheet.positions.subarray(at, at + 3) as unknown as Position;
    const way = [0, 1, 2].map((k) => sheet.positions[at + k]! - sheet.positions[above + k]!);
    const [length, outward] = [Math.hypot(...way), Math.hypot(x, z)];
    made.positions.set(
      [
        x + (down * way[0]!) / length + (out * x) / outward,
        y + (down * way[1]!) / length,
        z + (down * way[2]!) / length + (out * z) / outward,
      ],
      3 * v,
    );
    made.colors!.set(PIPING.color, 3 * v);
    made.uvs![2 * v + 1] = 1 + (isRound ? 0.02 : 0.05);
  }
  for (let v = 0; v < sources.length; v++) made.uvs![2 * v + 1] = made.uvs![2 * v + 1]! / 1.05;
  return made;
}

/** The sheet with an inner side, its own points for each vertex, joined along neck and hem. */
function addInside(sheet: Section): Section {
  const count = sheet.positions.length / 3;
  const both = rebuildSection(
    sheet,
    Array.from({ length: 2 * count }, (_, v) => v % count),
    new Uint32Array(0),
  );
  const normals = computeVertexNormals(sheet.positions, sheet.triangles, new Float32Array(3 * count));
  for (let v = 0; v < count; v++) {
    // The same way in on both sides of the UV seam.
    const n = v % ROW === ROW - 1 ? v - ROW + 1 : v;
    for (let k = 0; k < 3; k++) {
      const at = 3 * (count + v) + k;
      both.positions[at] = sheet.positions[3 * v + k]! - THICKNESS * normals[3 * n + k]!;
      both.normals[at] = -both.normals[at]!;
    }
  }
  // Mirrored, so that the inside faces the same way in the UVs.
  for (let v = count; v < 2 * count; v++) both.uvs![2 * v] = 2.1 - both.uvs![2 * v]!;
  const triangles = Array.from(sheet.triangles);
  for (let t = 0; t < sheet.triangles.length; t += 3) {
    triangles.push(
      sheet.triangles[t]! + count,
      sheet.triangles[t + 2]! + count,
      sheet.triangles[t + 1]! + count,
    );
  }
  const last = count - ROW;
  for (let c = 0; c + 1 < ROW; c++) {
    const [a, b] = [c, c + 1];
    triangles.push(a, b, b + count, a, b + count, a + count);
    triangles.push(last + b, last + a, last + a + count, last + b, last + a + count, last + b + count);
  }
  return { ...both, triangles: Uint32Array.from(triangles) };
}

/** A square badge on the chest that nothing joins to the coat. */
function addBadge(coat: Section): Section {
  const count = coat.positions.length / 3;
  const size = 4;
  const corner = 8 * ROW + 2;
  const sources: number[] = Array.from({ length: count }, (_, v) => v);
  for (let j = 0; j < size; j++) for (let i = 0; i < size; i++) sources.push(corner + j * ROW + i);
  const triangles = Array.from(coat.triangles);
  for (let j = 0; j + 1 < size; j++) {
    for (let i = 0; i + 1 < size; i++) {
      const a = count + j * size + i;
      triangles.push(a, a + size, a + size + 1, a, a + size + 1, a + 1);
    }
  }
  const made = rebuildSection(coat, sources, Uint32Array.from(triangles));
  for (let v = count; v < sources.length; v++) {
    for (let k = 0; k < 3; k++)
      made.positions[3 * v + k] = made.positions[3 * v + k]! + 0.008 * made.normals[3 * v + k]!;
    made.uvs!.set([made.uvs![2 * v]!, made.uvs![2 * v + 1]! - 1.2], 2 * v);
  }
  return made;
}

function addFaults(coat: Section): Section {
  const random = createRandom(20);
  const positions = coat.positions.slice();
  const triangles = Array.from(coat.triangles);
  // Rounding took the sides of the seam apart by up to 0.4 mm.
  for (let v = ROW - 1; v < positions.length / 3 - 16; v += ROW) {
    for (let k = 0; k < 3; k++) positions[3 * v + k] = positions[3 * v + k]! + 0.0004 * (random() - 0.5);
  }
  // Needles: inner points of the outside slipped almost onto a neighbour.
  for (const [row, column] of [
    [6, 20],
    [11, 33],
    [15, 36],
  ] as const) {
    const v = row * ROW + column;
    for (let k = 0; k < 3; k++)
      positions[3 * v + k] = 0.02 * positions[3 * v + k]! + 0.98 * positions[3 * (v + 1) + k]!;
  }
  // Squares of the inside cut the other way.
  const squares = (coat.triangles.length / 3 - 2 * (ROW - 1) - 18) / 4;
  for (let s = 0; s < 40; s++) {
    const at = 3 * (2 * squares + 2 * (5 * (ROW - 1) + Math.floor(random() * 9 * (ROW - 1))));
    turnDiagonal(triangles, at);
  }
  // Faces turned round, and faces doubled.
  for (let i = 0; i < 12; i++) {
    const t = 3 * (4 * (ROW - 1) + 2 * i);
    [triangles[t + 1], triangles[t + 2]] = [triangles[t + 2]!, triangles[t + 1]!];
  }
  const doubled = 3 * 2 * (13 * (ROW - 1) + 20);
  triangles.push(...triangles.slice(doubled, doubled + 24));
  return { ...coat, positions, triangles: Uint32Array.from(triangles) };
}

/** Two triangles in a row that share an edge, cut along the other diagonal. */
function turnDiagonal(triangles: number[], at: number): void {
  const [first, second] = [triangles.slice(at, at + 3), triangles.slice(at + 3, at + 6)];
  const own = first.findIndex((corner) => !second.includes(corner));
  const other = second.find((corner) => !first.includes(corner))!;
  const [c, a, b] = [first[own]!, first[(own + 1) % 3]!, first[(own + 2) % 3]!];
  triangles.splice(at, 6, c, a, other, other, b, c);
}

function copyNearestWeights(coat: Section, body: Section): Section {
  const index = new SpatialIndex(body.positions.slice(), body.triangles);
  const jointIndices = new Uint16Array(coat.jointIndices.length);
  const jointWeights = new Float32Array(coat.jointWeights.length);
  for (let v = 0; v < coat.positions.length / 3; v++) {
    const [x, y, z] = coat.positions.subarray(3 * v, 3 * v + 3) as unknown as [number, number, number];
    const from = body.triangles[3 * index.findClosest(x, y, z)!.triangle]!;
    jointIndices.set(body.jointIndices.subarray(4 * from, 4 * from + 4), 4 * v);
    jointWeights.set(body.jointWeights.subarray(4 * from, 4 * from + 4), 4 * v);
  }
  return { ...coat, jointIndices, jointWeights };
}
