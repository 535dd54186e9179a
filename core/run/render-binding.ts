import type { CompiledGarment } from '../cloth/index.ts';
import { dot, type MutableVector3, SpatialIndex, writeTriangleCross } from '../math/index.ts';
import {
  computeVertexNormals,
  distanceToSegment,
  listTrianglesOfPoints,
  measureOnTriangle,
  weldPoints,
  weldTriangles,
} from '../mesh/index.ts';
import { bindSection, type Character } from '../rig/index.ts';

/** Triangles of the sim mesh that a render point follows, at most. */
const MOST_TRIANGLES = 4;
/** A triangle this share of the spacing farther away than the closest has no weight any more. */
const REACH = 0.6;

/**
 * A drawn section that follows a sim mesh: each of its points stands at fixed places over several triangles, blended.
 * Lengths in metres, world space.
 */
export interface RenderBinding {
  sectionIndex: number;
  vertexCount: number;
  pointOfVertex: Uint32Array;
  pointCount: number;
  /** Triangles of the section over its points, for normals. [t, 3] */
  triangles: Uint32Array;
  /** Where the entries of each point start. [points + 1] */
  start: Uint32Array;
  /** Triangle of the sim mesh of each entry, and its share of the point. */
  entries: Uint32Array;
  shares: Float32Array;
  /** Place over the triangle: barycentric, [entries, 3], and height along its normal, [entries]. */
  weights: Float32Array;
  heights: Float32Array;
}

/**
 * Binds a drawn section to a sim mesh in bind pose. Each place is exact there for every triangle, so any blend of them
 * is; when the cloth bends, the blend rounds what single triangles would crease.
 *
 * The share of a triangle falls off smoothly with how much farther it lies than the closest: only triangles around that
 * one take part. O(n log n).
 */
export function bindRender(
  character: Character,
  garment: CompiledGarment,
  sectionIndex: number,
): RenderBinding {
  const section = character.sections[sectionIndex]!;
  const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(section.positions);
  const bind = bindSection(character, sectionIndex);
  const sim = collectSimPositions(character, garment);
  const index = new SpatialIndex(sim.slice(), garment.triangles);
  const around = listTrianglesOfPoints(garment.triangles, garment.pointCount);
  const start = new Uint32Array(pointCount + 1);
  const entries: number[] = [];
  const shares: number[] = [];
  const weights: number[] = [];
  const heights: number[] = [];
  vertexOfPoint.forEach((vertex, p) => {
    const position: Position = [bind[3 * vertex]!, bind[3 * vertex + 1]!, bind[3 * vertex + 2]!];
    const closest = index.findClosest(...position)!;
    const reach = REACH * garment.spacing;
    const near = listAround(garment.triangles, around, closest.triangle)
      .map((triangle) => ({
        triangle,
        excess: measureDistance(sim, garment.triangles, triangle, position) - closest.distance,
      }))
      .filter(({ excess }) => excess < reach)
      .sort((s, t) => s.excess - t.excess || s.triangle - t.triangle)
      .slice(0, MOST_TRIANGLES);
    const raw = near.map(({ excess }) => (1 - Math.max(0, excess) / reach) ** 2);
    const total = raw.reduce((sum, share) => sum + share, 0);
    near.forEach(({ triangle }, i) => {
      const corners = garment.triangles.subarray(3 * triangle, 3 * triangle + 3);
      const on = measureOnTriangle(sim, 3, Array.from(corners), position);
      entries.push(triangle);
      shares.push(raw[i]! / total);
      weights.push(...on.weights);
      heights.push(on.height);
    });
    start[p + 1] = entries.length;
  });
  return {
    sectionIndex,
    vertexCount: pointOfVertex.length,
    pointOfVertex,
    pointCount,
    triangles: weldTriangles(section.triangles, pointOfVertex),
    start,
    entries: Uint32Array.from(entries),
    shares: Float32Array.from(shares),
    weights: Float32Array.from(weights),
    heights: Float32Array.from(heights),
  };
}

type Position = [number, number, number];

/** Bind places of the sim mesh's points, in the order of the compiled garment. [n, 3] */
export function collectSimPositions(
  character: Character,
  { sectionIndex, vertexOfPoint, pointCount }: CompiledGarment,
): Float32Array {
  const bind = bindSection(character, sectionIndex);
  const positions = new Float32Array(3 * pointCount);
  vertexOfPoint.forEach((vertex, p) => {
    positions.set(bind.subarray(3 * vertex, 3 * vertex + 3), 3 * p);
  });
  return positions;
}

function listAround(
  triangles: Uint32Array,
  { start, list }: ReturnType<typeof listTrianglesOfPoints>,
  triangle: number,
): number[] {
  const found = new Set([triangle]);
  for (let k = 0; k < 3; k++) {
    const corner = triangles[3 * triangle + k]!;
    for (let i = start[corner]!; i < start[corner + 1]!; i++) found.add(list[i]!);
  }
  return [...found];
}

/** Distance of a place from a triangle, m: from its foot in the plane when that lies inside, else from the sides. */
function measureDistance(
  x: Float32Array,
  triangles: Uint32Array,
  triangle: number,
  position: Position,
): number {
  const corners = Array.from(triangles.subarray(3 * triangle, 3 * triangle + 3));
  const { weights, height } = measureOnTriangle(x, 3, corners, position);
  if (Math.min(...weights) >= 0) return Math.abs(height);
  return Math.min(
    ...corners.map((corner, k) =>
      distanceToSegment(position, positionOf(x, corner), positionOf(x, corners[(k + 1) % 3]!)),
    ),
  );
}

function positionOf(x: Float32Array, point: number): Float32Array {
  return x.subarray(3 * point, 3 * point + 3);
}

/** Scratch for one binding, kept from frame to frame. */
export interface BoundPositions {
  /** [points, 3] */
  positions: Float32Array;
  normals: Float32Array;
  /** Unit normals of the sim mesh's triangles, [t, 3]. */
  faceNormals: Float32Array;
}

/** Room for the vertices of a bound section, to be filled each frame. */
export function createBoundPositions(binding: RenderBinding, triangleCount: number): BoundPositions {
  return {
    positions: new Float32Array(3 * binding.pointCount),
    normals: new Float32Array(3 * binding.pointCount),
    faceNormals: new Float32Array(3 * triangleCount),
  };
}

/**
 * Vertices of a bound section for places of the sim mesh.
 *
 * @param x - Points of the sim mesh, [n, 4]. @param triangles - Of the sim mesh.
 * @param outPositions, outNormals - [vertices, 3]; overwritten.
 */
export function writeBound(
  binding: RenderBinding,
  x: Float32Array,
  triangles: Uint32Array,
  scratch: BoundPositions,
  outPositions: Float32Array,
  outNormals: Float32Array,
): void {
  const { positions, normals, faceNormals } = scratch;
  writeFaceNormals(x, triangles, faceNormals);
  const { start, entries, shares, weights, heights, pointOfVertex, pointCount } = binding;
  for (let p = 0; p < pointCount; p++) {
    let px = 0;
    let py = 0;
    let pz = 0;
    for (let e = start[p]!; e < start[p + 1]!; e++) {
      const t = 3 * entries[e]!;
      const [a, b, c] = [4 * triangles[t]!, 4 * triangles[t + 1]!, 4 * triangles[t + 2]!];
      const share = shares[e]!;
      const [wa, wb, wc] = [
        share * weights[3 * e]!,
        share * weights[3 * e + 1]!,
        share * weights[3 * e + 2]!,
      ];
      const height = share * heights[e]!;
      px += wa * x[a]! + wb * x[b]! + wc * x[c]! + height * faceNormals[t]!;
      py += wa * x[a + 1]! + wb * x[b + 1]! + wc * x[c + 1]! + height * faceNormals[t + 1]!;
      pz += wa * x[a + 2]! + wb * x[b + 2]! + wc * x[c + 2]! + height * faceNormals[t + 2]!;
    }
    positions[3 * p] = px;
    positions[3 * p + 1] = py;
    positions[3 * p + 2] = pz;
  }
  computeVertexNormals(positions, binding.triangles, normals);
  for (let v = 0; v < pointOfVertex.length; v++) {
    const p = 3 * pointOfVertex[v]!;
    for (let k = 0; k < 3; k++) {
      outPositions[3 * v + k] = positions[p + k]!;
      outNormals[3 * v + k] = normals[p + k]!;
    }
  }
}

function writeFaceNormals(x: Float32Array, triangles: Uint32Array, out: Float32Array): void {
  const normal: MutableVector3 = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 4 * triangles[t]!;
    const b = 4 * triangles[t + 1]!;
    const c = 4 * triangles[t + 2]!;
    writeTriangleCross(x, a, b, c, normal);
    const length = Math.sqrt(dot(normal, normal));
    const scale = length > 0 ? 1 / length : 0;
    out[t] = normal[0] * scale;
    out[t + 1] = normal[1] * scale;
    out[t + 2] = normal[2] * scale;
  }
}
