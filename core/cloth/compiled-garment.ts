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
  /** Hinges, [b, 4]: the edge's two points, then the two across it; rest angles, rad. [b] */
  bendQuads: Uint32Array;
  bendRest: Float32Array;
  /** Stiffness of a hinge is the fabric's N·m times this: three times length squared over the area. [b] */
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
 * hinge is the discrete shell energy (Grinspun et al. 2003). Both make a cloth behave alike at other densities.
 *
 * References: A. van Gelder, *Approximate simulation of elastic membranes by triangulated spring meshes*,
 * J. Graphics Tools 3(2), 1998. E. Grinspun, A. Hirani, M. Desbrun, P. Schröder, *Discrete shells*, SCA 2003.
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
  'stretchPairs' | 'stretchRest' | 'stretchShape' | 'bendQuads' | 'bendRest' | 'bendShape'
> {
  const table = buildEdgeTable(triangles, pointCount);
  const stretchRest = new Float32Array(table.edgeCount);
  const stretchShape = new Float32Array(table.edgeCount);
  const quads: number[] = [];
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
    bendRest.push(measureHinge(rest, a, b, c, d));
    bendShape.push((3 * length * length) / area);
  }
  return {
    stretchPairs: table.edges,
    stretchRest,
    stretchShape,
    bendQuads: Uint32Array.from(quads),
    bendRest: Float32Array.from(bendRest),
    bendShape: Float32Array.from(bendShape),
  };
}

/**
 * Angle between the two triangles at an edge: 0 when flat, positive or negative by the side it folds to.
 * Points a, b on the edge, c and d across it; rows of `x` are [n, 4].
 */
export function measureHinge(x: Float32Array, a: number, b: number, c: number, d: number): number {
  const [ax, ay, az] = [x[4 * a]!, x[4 * a + 1]!, x[4 * a + 2]!];
  const e = [x[4 * b]! - ax, x[4 * b + 1]! - ay, x[4 * b + 2]! - az] as const;
  const f = [x[4 * c]! - ax, x[4 * c + 1]! - ay, x[4 * c + 2]! - az] as const;
  const g = [x[4 * d]! - ax, x[4 * d + 1]! - ay, x[4 * d + 2]! - az] as const;
  const n1 = [e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]] as const;
  const n2 = [g[1] * e[2] - g[2] * e[1], g[2] * e[0] - g[0] * e[2], g[0] * e[1] - g[1] * e[0]] as const;
  const length = Math.sqrt(e[0] * e[0] + e[1] * e[1] + e[2] * e[2]);
  const sine =
    ((n1[1] * n2[2] - n1[2] * n2[1]) * e[0] +
      (n1[2] * n2[0] - n1[0] * n2[2]) * e[1] +
      (n1[0] * n2[1] - n1[1] * n2[0]) * e[2]) /
    length;
  const cosine = n1[0] * n2[0] + n1[1] * n2[1] + n1[2] * n2[2];
  return Math.atan2(sine, cosine);
}
