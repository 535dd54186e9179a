import { concatenate, SpatialIndex } from '../../math/index.ts';
import {
  computeTriangleAreas,
  computeVertexNormals,
  listTrianglesOfPoints,
  WindingNumber,
  weldPoints,
  weldTriangles,
} from '../../mesh/index.ts';
import { applyMorphs, bindSection, type Character, type Section } from '../../rig/index.ts';
import { clusterPoints } from './cluster-points.ts';
import { refineSkin } from './refine-skin.ts';

/** What of a character's body does not hang on the pose. Points are numbered cluster by cluster. */
export interface SkinModel {
  sections: readonly Section[];
  pointCount: number;
  /** [t, 3] counter-clockwise from outside; without those that lie inside another part in bind pose. */
  triangles: Uint32Array;
  around: { start: Uint32Array; list: Uint32Array };
  /** A third of the triangles around each point in bind pose, m². [n] */
  areas: Float32Array;
  /** From each point through the body to its other side in bind pose, m. [n] */
  thickness: Float32Array;
  /** How sharply the skin is bent around each point in bind pose: one over the least radius, 1/m. [n] */
  bends: Float32Array;
  /** Whether a point lies inside another part of the body in bind pose. [n] */
  isBuried: Uint8Array;
  /** Points of cluster c: `clusters[c]` to `clusters[c + 1]`. */
  clusters: Uint32Array;
  /** Vertices of the joined sections behind each point with their shares, [n, 3] each. */
  vertices: Uint32Array;
  shares: Float32Array;
}

/** Offset outwards, m, at which it is asked whether a point lies within another part. */
const OUTSIDE = 0.001;
/** Limbs are taken as no thinner than this, m, where it is asked how bent the skin is. */
const LEAST_THICKNESS = 0.01;

/** The last one made: trials of one character come one after the other. */
let latest: SkinModel | null = null;

/** The body made of some sections. Remembered while the sections are the very same. About 150 ms for 18,000 triangles otherwise. */
export function getSkinModel(character: Character, sections: readonly number[]): SkinModel {
  const wanted = sections.map((index) => character.sections[index]!);
  const known = latest?.sections;
  if (known?.length === wanted.length && wanted.every((section, i) => section === known[i])) return latest!;
  latest = createSkinModel(character, sections);
  return latest;
}

/** Joined vertices of sections as the file has them, morphs at some weights added. @returns [n, 3] */
export function joinPositions(
  sections: readonly Section[],
  weights: readonly ArrayLike<number>[],
): Float32Array {
  const parts = sections.map((section, s) =>
    section.morphs.length > 0
      ? applyMorphs(section, weights[s]!, new Float32Array(section.positions.length))
      : section.positions,
  );
  return concatenate(parts);
}

function createSkinModel(character: Character, indices: readonly number[]): SkinModel {
  const sections = indices.map((index) => character.sections[index]!);
  const joined = joinPositions(
    sections,
    sections.map(({ morphWeights }) => morphWeights),
  );
  const welded = weldPoints(joined);
  const bound = concatenate(indices.map((index) => bindSection(character, index)));
  const places = gatherRows(bound, welded.vertexOfPoint);
  const faces = weldTriangles(joinTriangles(sections), welded.pointOfVertex);
  const refined = refineSkin(places, faces);
  const scattered = mixRows(places, refined.sources, refined.shares);
  const { order, clusters } = clusterPoints(scattered);
  const numberOf = new Uint32Array(order.length);
  order.forEach((point, i) => {
    numberOf[point] = i;
  });
  const positions = gatherRows(scattered, order);
  const triangles = refined.triangles.map((point) => numberOf[point]!);
  const normals = computeVertexNormals(positions, triangles, new Float32Array(positions.length));
  const isBuried = findBuried(positions, normals, triangles);
  const thickness = measureThickness(positions, normals, triangles);
  const seen = triangles.filter((_, i) => {
    const t = 3 * Math.floor(i / 3);
    return !(isBuried[triangles[t]!] && isBuried[triangles[t + 1]!] && isBuried[triangles[t + 2]!]);
  });
  const vertices = new Uint32Array(3 * order.length);
  const shares = new Float32Array(3 * order.length);
  order.forEach((point, i) => {
    for (let k = 0; k < 3; k++) {
      vertices[3 * i + k] = welded.vertexOfPoint[refined.sources[3 * point + k]!]!;
      shares[3 * i + k] = refined.shares[3 * point + k]!;
    }
  });
  return {
    sections,
    pointCount: order.length,
    triangles: seen,
    around: listTrianglesOfPoints(seen, order.length),
    areas: sharePointAreas(positions, triangles),
    thickness,
    bends: measureBends(positions, normals, triangles, thickness),
    isBuried,
    clusters,
    vertices,
    shares,
  };
}

function findBuried(positions: Float32Array, normals: Float32Array, triangles: Uint32Array): Uint8Array {
  const winding = new WindingNumber(positions, triangles);
  return Uint8Array.from({ length: positions.length / 3 }, (_, p) => {
    const [x, y, z] = [0, 1, 2].map((k) => positions[3 * p + k]! + OUTSIDE * normals[3 * p + k]!);
    return winding.measure(x!, y!, z!) > 0.5 ? 1 : 0;
  });
}

/** Way inwards to where the surface is left again, m; endless where it never is. */
function measureThickness(
  positions: Float32Array,
  normals: Float32Array,
  triangles: Uint32Array,
): Float32Array {
  const index = new SpatialIndex(positions.slice(), triangles);
  return Float32Array.from({ length: positions.length / 3 }, (_, p) => {
    const inward = [0, 1, 2].map((k) => -normals[3 * p + k]!);
    const start = [0, 1, 2].map((k) => positions[3 * p + k]! + OUTSIDE * inward[k]!);
    const hit = index.castRay(start, inward);
    return hit ? hit.distance + OUTSIDE : Number.POSITIVE_INFINITY;
  });
}

/** The bend of a round limb as thick, or that of the skin as its normals turn, whichever is more, within two edges of each point. */
function measureBends(
  positions: Float32Array,
  normals: Float32Array,
  triangles: Uint32Array,
  thickness: Float32Array,
): Float32Array {
  const bends = thickness.map((value) => 2 / Math.max(value, LEAST_THICKNESS));
  const distance = (rows: Float32Array, p: number, q: number): number =>
    Math.hypot(
      rows[3 * p]! - rows[3 * q]!,
      rows[3 * p + 1]! - rows[3 * q + 1]!,
      rows[3 * p + 2]! - rows[3 * q + 2]!,
    );
  const visitEdges = (visit: (p: number, q: number) => void): void => {
    for (let i = 0; i < triangles.length; i++) visit(triangles[i]!, triangles[i % 3 === 2 ? i - 2 : i + 1]!);
  };
  visitEdges((p, q) => {
    const length = distance(positions, p, q);
    if (length === 0) return;
    const bend = Math.min(distance(normals, p, q) / length, 2 / LEAST_THICKNESS);
    bends[p] = Math.max(bends[p]!, bend);
    bends[q] = Math.max(bends[q]!, bend);
  });
  // Skin beside a sharp edge is near one.
  const wider = bends.slice();
  visitEdges((p, q) => {
    wider[p] = Math.max(wider[p]!, bends[q]!);
    wider[q] = Math.max(wider[q]!, bends[p]!);
  });
  return wider;
}

function sharePointAreas(positions: Float32Array, triangles: Uint32Array): Float32Array {
  const areas = new Float32Array(positions.length / 3);
  computeTriangleAreas(positions, triangles).forEach((area, t) => {
    for (let k = 0; k < 3; k++) {
      const point = triangles[3 * t + k]!;
      areas[point] = areas[point]! + area / 3;
    }
  });
  return areas;
}

function joinTriangles(sections: readonly Section[]): Uint32Array {
  const joined: number[] = [];
  let first = 0;
  for (const { triangles, positions } of sections) {
    for (const vertex of triangles) joined.push(first + vertex);
    first += positions.length / 3;
  }
  return Uint32Array.from(joined);
}

function gatherRows(rows: Float32Array, order: Uint32Array): Float32Array {
  const gathered = new Float32Array(3 * order.length);
  order.forEach((from, i) => {
    gathered.set(rows.subarray(3 * from, 3 * from + 3), 3 * i);
  });
  return gathered;
}

/** Rows mixed of up to three others each. */
export function mixRows(rows: Float32Array, sources: Uint32Array, shares: Float32Array): Float32Array {
  const mixed = new Float32Array(sources.length);
  for (let i = 0; i < sources.length; i += 3) {
    for (let j = i; j < i + 3; j++) {
      const share = shares[j]!;
      if (share === 0) continue;
      for (let k = 0; k < 3; k++) mixed[i + k] = mixed[i + k]! + share * rows[3 * sources[j]! + k]!;
    }
  }
  return mixed;
}
