import { boolean, number, string } from 'yup';
import { computeVertexNormals, type EdgeTable, measureDistance, NO_TRIANGLE } from '../mesh/index.ts';
import { type Character, invertBind, type Section } from '../rig/index.ts';
import { readLiningMaps } from './lining-maps.ts';
import { createSectionMesh } from './section-mesh.ts';
import { layOutShell, type RimSide, type ShellLayout } from './shell-layout.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Edges shorter than so many times the thickness make ways inward alike, in so many passes. */
const CALM_REACH = 2.5;
const CALM_PASSES = 6;

export type RimShape = 'rounded' | 'square';

/**
 * Gives a garment with one side an inner side and a rim between the two: every triangle has its partner behind it, with
 * the same diagonals. Skin weights, UVs and colours of the inner side are those of the outer one.
 *
 * @param thickness - Metres. @param rim - `square`: a flat band with its own normals; `rounded`: bulges out by half the thickness.
 * @param maps - In place of both, as `packLiningMaps` makes them: an edge is rounded where both its ends are.
 * @throws {RangeError} When the section already has a lining's worth of thickness: a closed surface has no border.
 */
export function thicken(
  character: Character,
  sectionIndex: number,
  thickness: number,
  rim: RimShape,
  maps: Float32Array | null = null,
): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const sides = listRimSides(mesh, section.triangles);
  if (sides.length === 0)
    throw new RangeError(
      `"${section.name}" is closed already; only an open surface can be given an inner side`,
    );
  const read = maps && readLiningMaps(maps, mesh.pointPositions);
  const thicknesses = read?.thickness ?? new Float32Array(mesh.pointCount).fill(thickness);
  const isRound = ({ from, to }: RimSide): boolean =>
    read
      ? read.isRounded[mesh.pointOfVertex[from]!]! + read.isRounded[mesh.pointOfVertex[to]!]! === 2
      : rim === 'rounded';
  const layout = layOutShell(section.positions.length / 3, sides, isRound, mesh.pointOfVertex);
  const build = (world: Float32Array): Float32Array => placeShell(mesh, world, layout, thicknesses);
  const world = build(mesh.positions);
  const positions = invertBind(character, section.skin, world);
  // The bind pose stands with the morphs at their weights; the outer side keeps its very places.
  section.morphs.forEach((morph, m) => {
    const weight = section.morphWeights[m] ?? 0;
    layout.source.forEach((source, v) => {
      for (let k = 0; k < 3; k++)
        positions[3 * v + k] = positions[3 * v + k]! - weight * morph.positions[3 * source + k]!;
    });
  });
  positions.set(section.positions);
  for (const [v, source] of layout.twins) positions.copyWithin(3 * v, 3 * source, 3 * source + 3);
  const triangles = joinTriangles(section.triangles, layout);
  const rows = <T extends Float32Array | Uint16Array>(array: T, width: number): T => {
    const out = new (array.constructor as new (length: number) => T)(layout.source.length * width);
    layout.source.forEach((source, v) => {
      out.set(array.subarray(width * source, width * (source + 1)) as never, width * v);
    });
    return out;
  };
  const normals = computeVertexNormals(positions, triangles, new Float32Array(positions.length));
  normals.set(section.normals);
  return {
    ...section,
    positions,
    normals,
    uvs: section.uvs && rows(section.uvs, 2),
    colors: section.colors && rows(section.colors, 3),
    jointIndices: rows(section.jointIndices, section.influences),
    jointWeights: rows(section.jointWeights, section.influences),
    triangles,
    morphs: section.morphs.map((morph) => ({ ...morph, positions: rows(morph.positions, 3), normals: null })),
    restPositions: section.restPositions ? build(section.restPositions) : null,
  };
}

function listRimSides(mesh: ReturnType<typeof createSectionMesh>, triangles: Uint32Array): RimSide[] {
  const { table, triangleOfFace, pointOfVertex } = mesh;
  const sides: RimSide[] = [];
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    const t = 3 * triangleOfFace[table.triangles[2 * e]!]!;
    for (let k = 0; k < 3; k++) {
      const [from, to] = [triangles[t + k]!, triangles[t + ((k + 1) % 3)]!];
      const [p, q] = [pointOfVertex[from]!, pointOfVertex[to]!];
      if (Math.min(p, q) === table.edges[2 * e] && Math.max(p, q) === table.edges[2 * e + 1])
        sides.push({ from, to });
    }
  }
  return sides;
}

/** Places of all vertices, from those of the one-sided mesh. */
function placeShell(
  mesh: ReturnType<typeof createSectionMesh>,
  outer: Float32Array,
  { source, depth, bulging, sides, twins }: ShellLayout,
  thicknesses: Float32Array,
): Float32Array {
  const { pointOfVertex, vertexOfPoint, pointCount, faces } = mesh;
  const ofPoints = new Float32Array(3 * pointCount);
  vertexOfPoint.forEach((vertex, p) => {
    ofPoints.set(outer.subarray(3 * vertex, 3 * vertex + 3), 3 * p);
  });
  const normals = computeVertexNormals(ofPoints, faces, new Float32Array(3 * pointCount));
  calmNormals(normals, ofPoints, mesh.table, thicknesses);
  const outward = measureOutward(ofPoints, normals, sides, pointOfVertex);
  const positions = new Float32Array(3 * source.length);
  source.forEach((from, v) => {
    const p = 3 * pointOfVertex[from]!;
    const thickness = thicknesses[pointOfVertex[from]!]!;
    for (let k = 0; k < 3; k++) {
      const bulge = bulging.has(v) ? 0.5 * thickness * outward[p + k]! : 0;
      positions[3 * v + k] = outer[3 * from + k]! - depth[v]! * thickness * normals[p + k]! + bulge;
    }
  });
  for (const [v, twin] of twins) positions.copyWithin(3 * v, 3 * twin, 3 * twin + 3);
  return positions;
}

/**
 * Where the mesh is finer than the inside lies deep (piping, a doubled row), ways inward that differ from one point to the
 * next would cross: there they are made alike.
 *
 * @param normals - Unit, [points, 3], changed.
 */
function calmNormals(
  normals: Float32Array,
  positions: Float32Array,
  { edges, edgeCount }: EdgeTable,
  thicknesses: Float32Array,
): void {
  for (let pass = 0; pass < CALM_PASSES; pass++) {
    const before = normals.slice();
    for (let e = 0; e < edgeCount; e++) {
      const [p, q] = [edges[2 * e]!, edges[2 * e + 1]!];
      const thickness = Math.max(thicknesses[p]!, thicknesses[q]!);
      const share = Math.max(0, 1 - measureDistance(positions, p, q) / (CALM_REACH * thickness));
      if (share === 0) continue;
      for (let k = 0; k < 3; k++) {
        normals[3 * p + k] = normals[3 * p + k]! + share * before[3 * q + k]!;
        normals[3 * q + k] = normals[3 * q + k]! + share * before[3 * p + k]!;
      }
    }
    for (let i = 0; i < normals.length; i += 3) {
      const length = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!);
      if (length > 0) for (let k = 0; k < 3; k++) normals[i + k] = normals[i + k]! / length;
    }
  }
}

/** Unit ways out of the surface at the points of its border, across normal and border. [points, 3] */
function measureOutward(
  positions: Float32Array,
  normals: Float32Array,
  sides: readonly RimSide[],
  pointOfVertex: Uint32Array,
): Float32Array {
  const outward = new Float32Array(positions.length);
  for (const { from, to } of sides) {
    const [p, q] = [3 * pointOfVertex[from]!, 3 * pointOfVertex[to]!];
    const along = [0, 1, 2].map((k) => positions[q + k]! - positions[p + k]!);
    for (const at of [p, q]) {
      for (let k = 0; k < 3; k++) {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        outward[at + k] = outward[at + k]! + along[i]! * normals[at + j]! - along[j]! * normals[at + i]!;
      }
    }
  }
  for (let i = 0; i < outward.length; i += 3) {
    const length = Math.hypot(outward[i]!, outward[i + 1]!, outward[i + 2]!);
    if (length > 0) for (let k = 0; k < 3; k++) outward[i + k] = outward[i + k]! / length;
  }
  return outward;
}

function joinTriangles(outer: Uint32Array, { rim, depth }: ShellLayout): Uint32Array {
  const count = depth.indexOf(1);
  const inner: number[] = [];
  for (let i = 0; i < outer.length; i += 3)
    inner.push(count + outer[i]!, count + outer[i + 2]!, count + outer[i + 1]!);
  return Uint32Array.from([...outer, ...inner, ...rim]);
}

export const thickenStep = defineStep({
  kind: 'thicken',
  fields: {
    thickness: number().required().min(0.0005).max(0.1),
    rim: string()
      .oneOf(['rounded', 'square'] as const)
      .required(),
    /** Where there are maps of the two, they are kept beside the step and count instead. Left out by documents from before there were. */
    byMaps: boolean().optional(),
  },
  describe: ({ thickness, rim, byMaps }) =>
    byMaps ? 'inside by its maps' : `inside of ${Number((1000 * thickness).toFixed(1))} mm, ${rim} edge`,
  apply: (context, { thickness, rim, byMaps }) => {
    const { character, sectionIndex, array } = context;
    if (byMaps && !array) throw new RangeError('its maps of thickness are not there');
    const section = thicken(character, sectionIndex, thickness, rim, byMaps ? array! : null);
    return replaceOwn(context, section);
  },
});
