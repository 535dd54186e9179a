import { SpatialIndex } from '../math/index.ts';
import { computeVertexNormals, findInnerSide, measureOnTriangle, type Surface } from '../mesh/index.ts';
import {
  bindSection,
  type Character,
  invertBind,
  type Section,
  toDenseWeights,
  toSparseWeights,
} from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** Triangles of one or several sections in one list. */
interface Source extends Surface {
  /** Of each vertex: which of the sections, and its number there. */
  sectionOf: Uint16Array;
  vertexOf: Uint32Array;
}

/** A place on the source: vertices around it, and how much each counts. */
interface SourcePosition {
  corners: readonly number[];
  weights: readonly number[];
}

/**
 * A section over another surface: UVs, colours, skin weights, morphs and rest lengths of each new vertex come from the
 * closest place of the sections that it stands for. A point on a seam of the UVs becomes a vertex of each side; edges of the
 * surface should run along the seams (`listUvSeams`).
 *
 * @param sectionIndices - Sections of one skin. The first gives name, material and place in the file.
 * @param surface - World space of the bind pose. @param skipsInside - Nothing comes from inner sides of the sections.
 * @param skipsUvs - It has none, and so no vertices twice.
 * @throws {RangeError} When the sections follow different skins.
 */
export function resampleSection(
  character: Character,
  sectionIndices: readonly number[],
  surface: Surface,
  { skipsInside = false, skipsUvs = false }: { skipsInside?: boolean; skipsUvs?: boolean } = {},
): Section {
  const sections = sectionIndices.map((index) => character.sections[index]!);
  const first = sections[0]!;
  if (sections.some((section) => section.skin !== first.skin)) {
    throw new RangeError(
      'the sections follow different skins; one mesh can stand for sections of one skin only',
    );
  }
  const source = collectSource(character, sectionIndices, skipsInside);
  const { index, sources } = findSources(source, surface);
  const hasAll = (key: 'uvs' | 'colors'): boolean => sections.every((section) => section[key]);
  const uvsOf = hasAll('uvs') && !skipsUvs ? sections.map((section) => section.uvs!) : null;
  const { points, uvs, triangles } = splitAtSeams(source, surface, index, uvsOf);
  const blend = (width: number, arrays: readonly (Float32Array | null | undefined)[]): Float32Array =>
    blendRows(
      points.map((point) => sources[point]!),
      source,
      width,
      arrays,
    );
  const jointCount = character.skins[first.skin]!.joints.length;
  const dense = blend(
    jointCount,
    sections.map((section) => toDenseWeights(section, jointCount)),
  );
  const world = Float32Array.from(
    points.flatMap((point) => [...surface.positions.subarray(3 * point, 3 * point + 3)]),
  );
  const morphs = first.morphs.map((morph, m) => ({
    name: morph.name,
    positions: blend(
      3,
      sections.map((section) => section.morphs[m]?.positions),
    ),
    normals: null,
  }));
  const positions = invertBind(character, first.skin, world);
  // The bind pose stands with the morphs at rest; the section's own places are without them.
  morphs.forEach((morph, m) => {
    const weight = first.morphWeights[m] ?? 0;
    if (weight !== 0)
      for (let i = 0; i < positions.length; i++) positions[i] = positions[i]! - weight * morph.positions[i]!;
  });
  const hasRest = sections.some((section) => section.restPositions);
  const rests = sections.map(
    (section, s) => section.restPositions ?? bindSection(character, sectionIndices[s]!),
  );
  return {
    ...first,
    ...toSparseWeights(dense, jointCount, Math.max(...sections.map((section) => section.influences))),
    positions,
    normals: computeVertexNormals(positions, triangles, new Float32Array(positions.length)),
    uvs,
    colors: hasAll('colors')
      ? blend(
          3,
          sections.map((section) => section.colors),
        )
      : null,
    triangles,
    morphs,
    ...(hasRest ? { restPositions: blend(3, rests) } : {}),
  };
}

/** @param arrays - One for each section, [its vertices, width]; without one a section counts as zero. */
function blendRows(
  positions: readonly SourcePosition[],
  { sectionOf, vertexOf }: Source,
  width: number,
  arrays: readonly (Float32Array | null | undefined)[],
): Float32Array {
  const out = new Float32Array(width * positions.length);
  positions.forEach(({ corners, weights }, v) => {
    corners.forEach((corner, c) => {
      const array = arrays[sectionOf[corner]!];
      if (!array) return;
      const from = width * vertexOf[corner]!;
      for (let k = 0; k < width; k++)
        out[width * v + k] = out[width * v + k]! + weights[c]! * array[from + k]!;
    });
  });
  return out;
}

function collectSource(
  character: Character,
  sectionIndices: readonly number[],
  skipsInside: boolean,
): Source {
  const positions: Float32Array[] = [];
  const triangles: number[] = [];
  const sectionOf: number[] = [];
  const vertexOf: number[] = [];
  sectionIndices.forEach((index, s) => {
    const offset = sectionOf.length;
    const mesh = createSectionMesh(character, index);
    positions.push(mesh.positions);
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      sectionOf.push(s);
      vertexOf.push(v);
    }
    const isInner = skipsInside ? findInnerSide(mesh) : null;
    mesh.triangleOfFace.forEach((t, f) => {
      if (isInner && [0, 1, 2].some((k) => isInner[mesh.faces[3 * f + k]!])) return;
      for (let k = 0; k < 3; k++) triangles.push(mesh.triangles[3 * t + k]! + offset);
    });
  });
  const all = new Float32Array(3 * sectionOf.length);
  let at = 0;
  for (const part of positions) {
    all.set(part, at);
    at += part.length;
  }
  return {
    positions: all,
    triangles: Uint32Array.from(triangles),
    sectionOf: Uint16Array.from(sectionOf),
    vertexOf: Uint32Array.from(vertexOf),
  };
}

/** The place on the source that is closest to each point of a surface. */
function findSources(
  source: Source,
  { positions }: Surface,
): { index: SpatialIndex; sources: SourcePosition[] } {
  const index = new SpatialIndex(source.positions.slice(), source.triangles);
  const sources: SourcePosition[] = [];
  for (let i = 0; i < positions.length; i += 3) {
    const closest = index.findClosest(positions[i]!, positions[i + 1]!, positions[i + 2]!)!;
    sources.push(locate(source, closest.triangle, closest.point));
  }
  return { index, sources };
}

function locate(
  source: Source,
  triangle: number,
  position: readonly [number, number, number],
): SourcePosition {
  const corners = Array.from(source.triangles.subarray(3 * triangle, 3 * triangle + 3));
  return { corners, weights: measureOnTriangle(source.positions, 3, corners, position).weights };
}

/** Share of the way to the middle of its triangle at which a corner looks which side of a seam it is on. */
const LOOK_INWARD = 0.03;
/** UVs closer than this are one vertex: faces of one island agree but for the bend of the surface. */
const SAME_UV = 0.01;

/**
 * One vertex for each point, and more where the triangles around it lie on several sides of a UV seam.
 *
 * @param uvsOf - UVs of each section, or null: then there are no seams.
 * @returns Point of each vertex, their UVs, and triangles over vertices.
 */
function splitAtSeams(
  source: Source,
  { positions: p, triangles }: Surface,
  index: SpatialIndex,
  uvsOf: readonly Float32Array[] | null,
): { points: number[]; uvs: Float32Array | null; triangles: Uint32Array } {
  if (!uvsOf) return { points: Array.from({ length: p.length / 3 }, (_, i) => i), uvs: null, triangles };
  const points: number[] = [];
  const uvs: number[] = [];
  const verticesOf: number[][] = Array.from({ length: p.length / 3 }, () => []);
  const split = triangles.map((point, i) => {
    const t = i - (i % 3);
    const position = [0, 1, 2].map((k) => p[3 * point + k]!) as [number, number, number];
    const inward = position.map((value, k) => {
      const middle =
        (p[3 * triangles[t]! + k]! + p[3 * triangles[t + 1]! + k]! + p[3 * triangles[t + 2]! + k]!) / 3;
      return value + LOOK_INWARD * (middle - value);
    }) as [number, number, number];
    const own = locate(source, index.findClosest(...inward)!.triangle, position);
    const [u, v] = blendRows([own], source, 2, uvsOf) as unknown as [number, number];
    const known = verticesOf[point]!.find(
      (vertex) => Math.abs(uvs[2 * vertex]! - u) < SAME_UV && Math.abs(uvs[2 * vertex + 1]! - v) < SAME_UV,
    );
    if (known !== undefined) return known;
    verticesOf[point]!.push(points.length);
    uvs.push(u, v);
    points.push(point);
    return points.length - 1;
  });
  return { points, uvs: Float32Array.from(uvs), triangles: split };
}
