import {
  buildEdgeTable,
  computeTriangleAreas,
  NO_TRIANGLE,
  weldPoints,
  weldTriangles,
} from '../mesh/index.ts';
import { bindSection, type Character } from '../rig/index.ts';

/**
 * A garment as flat arrays, ready for any solver; what a shipment's data compiles to again, byte for byte.
 * Lengths in metres, world space of the bind pose. Rows of points are xyzw: 16 bytes, as the fast kernel reads.
 */
export interface CompiledGarment {
  sectionIndex: number;
  pointCount: number;
  /** vertex → point, [vertices]; point → its first vertex, [points]. */
  pointOfVertex: Uint32Array;
  vertexOfPoint: Uint32Array;
  /** [n, 4], w = 0. */
  restPositions: Float32Array;
  /** A third of the area of the triangles around each point, m². [n] */
  pointAreas: Float32Array;
  /** [t, 3] */
  triangles: Uint32Array;
  /** Pairs held at a distance (mesh edges), [s, 2]; rest lengths, [s]. */
  stretchPairs: Uint32Array;
  stretchRest: Float32Array;
  /** Stiffness of a pair is the fabric's N/m times this: area around the edge over its length squared. [s] */
  stretchShape: Float32Array;
  /** Hinges, [b, 4]: the edge's two points, then the two across it. */
  bendQuads: Uint32Array;
  /** Weights of the four points in a hinge's curvature vector, see `computeHingeWeights`. [b, 4] */
  bendWeights: Float32Array;
  /** Curvature at rest, signed, m. [b] */
  bendRest: Float32Array;
  /** Stiffness of a hinge is the fabric's N·m times this: three over the area of its triangles, 1/m². [b] */
  bendShape: Float32Array;
  /** Points in the section's own space with their skin weights, for the moving targets. */
  skinned: {
    skin: number;
    positions: Float32Array;
    jointIndices: Uint16Array;
    jointWeights: Float32Array;
    influences: number;
  };
}

/** Triangles of less area (m²) than this have no direction to bend about. */
const LEAST_AREA = 1e-12;

/**
 * Makes the simulation data of a section: its own points are the sim mesh.
 *
 * The stiffness of an edge spreads a membrane's stiffness over its edges by area (van Gelder 1998); that of a
 * hinge is the isometric bending energy (Bergou et al. 2006). Both make a cloth behave alike at other densities.
 *
 * References: A. van Gelder, *Approximate simulation of elastic membranes by triangulated spring meshes*,
 * J. Graphics Tools 3(2), 1998. M. Bergou, M. Wardetzky, D. Harmon, D. Zorin, E. Grinspun, *A quadratic bending
 * model for inextensible surfaces*, SGP 2006.
 */
export function compileGarment(character: Character, sectionIndex: number): CompiledGarment {
  const section = character.sections[sectionIndex]!;
  const { pointCount, pointOfVertex, vertexOfPoint } = weldPoints(section.positions);
  const triangles = weldTriangles(section.triangles, pointOfVertex);
  const bind = bindSection(character, sectionIndex);
  const restPositions = new Float32Array(4 * pointCount);
  const { influences } = section;
  const skinned = {
    skin: section.skin,
    positions: new Float32Array(3 * pointCount),
    jointIndices: new Uint16Array(influences * pointCount),
    jointWeights: new Float32Array(influences * pointCount),
    influences,
  };
  for (let p = 0; p < pointCount; p++) {
    const v = vertexOfPoint[p]!;
    for (let k = 0; k < 3; k++) {
      restPositions[4 * p + k] = bind[3 * v + k]!;
      skinned.positions[3 * p + k] = section.positions[3 * v + k]!;
    }
    for (let k = 0; k < influences; k++) {
      skinned.jointIndices[influences * p + k] = section.jointIndices[influences * v + k]!;
      skinned.jointWeights[influences * p + k] = section.jointWeights[influences * v + k]!;
    }
  }
  const areas = computeTriangleAreas(restPositions, triangles, 4);
  const pointAreas = new Float32Array(pointCount);
  for (let i = 0; i < triangles.length; i++) {
    pointAreas[triangles[i]!] = pointAreas[triangles[i]!]! + areas[Math.floor(i / 3)]! / 3;
  }
  return {
    sectionIndex,
    pointCount,
    pointOfVertex,
    vertexOfPoint,
    restPositions,
    pointAreas,
    triangles,
    ...compileConstraints(restPositions, triangles, areas, pointCount),
    skinned,
  };
}

function compileConstraints(
  rest: Float32Array,
  triangles: Uint32Array,
  areas: Float32Array,
  pointCount: number,
): Pick<
  CompiledGarment,
  'stretchPairs' | 'stretchRest' | 'stretchShape' | 'bendQuads' | 'bendWeights' | 'bendRest' | 'bendShape'
> {
  const table = buildEdgeTable(triangles, pointCount);
  const stretchRest = new Float32Array(table.edgeCount);
  const stretchShape = new Float32Array(table.edgeCount);
  const quads: number[] = [];
  const bendWeights: number[] = [];
  const bendRest: number[] = [];
  const bendShape: number[] = [];
  for (let e = 0; e < table.edgeCount; e++) {
    const a = table.edges[2 * e]!;
    const b = table.edges[2 * e + 1]!;
    const t0 = table.triangles[2 * e]!;
    const t1 = table.triangles[2 * e + 1]!;
    const area = areas[t0]! + (t1 === NO_TRIANGLE ? 0 : areas[t1]!);
    const length = Math.hypot(
      rest[4 * b]! - rest[4 * a]!,
      rest[4 * b + 1]! - rest[4 * a + 1]!,
      rest[4 * b + 2]! - rest[4 * a + 2]!,
    );
    stretchRest[e] = length;
    stretchShape[e] = length > 0 ? area / (length * length) : 0;
    if (t1 === NO_TRIANGLE || areas[t0]! < LEAST_AREA || areas[t1]! < LEAST_AREA) continue;
    const c = table.opposite[2 * e]!;
    const d = table.opposite[2 * e + 1]!;
    quads.push(a, b, c, d);
    const weights = computeHingeWeights(rest, a, b, c, d);
    bendWeights.push(...weights);
    bendRest.push(measureHinge(rest, [a, b, c, d], weights));
    bendShape.push(3 / area);
  }
  return {
    stretchPairs: table.edges,
    stretchRest,
    stretchShape,
    bendQuads: Uint32Array.from(quads),
    bendWeights: Float32Array.from(bendWeights),
    bendRest: Float32Array.from(bendRest),
    bendShape: Float32Array.from(bendShape),
  };
}

/**
 * Weights k of the four points of a hinge such that Σ k x is the curvature vector of its two triangles: zero when
 * flat, along the normal and as long as the edge times the (small) fold angle when folded. Equation (3) of Bergou
 * et al. 2006, from the cotangents of the four angles at the edge.
 */
export function computeHingeWeights(
  x: Float32Array,
  a: number,
  b: number,
  c: number,
  d: number,
): [number, number, number, number] {
  const ac = cotangent(x, a, b, c);
  const bc = cotangent(x, b, a, c);
  const ad = cotangent(x, a, b, d);
  const bd = cotangent(x, b, a, d);
  return [bc + bd, ac + ad, -ac - bc, -ad - bd];
}

/** Cotangent of the angle at `at` between the ways to `p` and `q`. */
function cotangent(x: Float32Array, at: number, p: number, q: number): number {
  const u = [0, 1, 2].map((k) => x[4 * p + k]! - x[4 * at + k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => x[4 * q + k]! - x[4 * at + k]!) as [number, number, number];
  const cross = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]);
  return (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / cross;
}

/**
 * Curvature of a hinge along the direction between its unit normals, m: edge length times fold angle for small folds,
 * positive towards the side that the triangle a, b, c faces. Rows of `x` are [n, 4].
 */
export function measureHinge(x: Float32Array, quad: ArrayLike<number>, weights: ArrayLike<number>): number {
  const [a, b, c, d] = [0, 1, 2, 3].map((i) => [0, 1, 2].map((k) => x[4 * quad[i]! + k]!)) as [
    number[],
    number[],
    number[],
    number[],
  ];
  const n1 = unitNormal(a, b, c);
  const n2 = unitNormal(b, a, d);
  const n = [0, 1, 2].map((k) => n1[k]! + n2[k]!);
  const length = Math.hypot(...n);
  if (length === 0) return 0;
  return [0, 1, 2].reduce((sum, k) => {
    const curvature = weights[0]! * a[k]! + weights[1]! * b[k]! + weights[2]! * c[k]! + weights[3]! * d[k]!;
    return sum + (curvature * n[k]!) / length;
  }, 0);
}

function unitNormal(a: number[], b: number[], c: number[]): [number, number, number] {
  const u = [0, 1, 2].map((k) => b[k]! - a[k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => c[k]! - a[k]!) as [number, number, number];
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]] as const;
  const length = Math.hypot(...n) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}
