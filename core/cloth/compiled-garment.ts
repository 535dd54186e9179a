import {
  buildEdgeTable,
  computeTriangleAreas,
  type EdgeTable,
  weldPoints,
  weldTriangles,
} from '../mesh/index.ts';
import {
  bindSection,
  type Character,
  gatherSkinnedRows,
  type Section,
  type SkinnedRows,
} from '../rig/index.ts';
import { type BendStencil, buildBendStencil } from './compile/bend-stencil.ts';
import { findEdgeChains, measureKink } from './compile/edge-chains.ts';
import { distance } from './compile/hinges.ts';
import { LANES, NO_EDGE, packChains } from './compile/pack-chains.ts';
import { orderAlongCurve } from './compile/point-order.ts';
import { computeWarpShares } from './compile/warp-shares.ts';

/**
 * A garment as flat arrays, ready for any solver; what a shipment's data compiles to again, byte for byte.
 * Lengths in metres, world space of the bind pose. Rows of points are xyzw: 16 bytes, as the fast kernel reads.
 */
export interface CompiledGarment {
  sectionIndex: number;
  pointCount: number;
  /** Rows that a solver keeps: the points, then spare rows that padding may read and write. A multiple of 16. */
  rowCount: number;
  /** Points are counted along a curve through space; channels count them as `weldPoints` does. [n] */
  weldedOfPoint: Uint32Array;
  /** vertex → point, [vertices]; point → its first vertex, [points]. */
  pointOfVertex: Uint32Array;
  vertexOfPoint: Uint32Array;
  /** [n, 4], w = 0. */
  restPositions: Float32Array;
  /** A third of the area of the triangles around each point, m². [n] */
  pointAreas: Float32Array;
  /** [t, 3] */
  triangles: Uint32Array;
  /**
   * Pairs held at a distance (mesh edges), laid into chains, see `packChains`: four to a row, each following on the one in
   * the row above; [s, 2]. Slots without an edge have a shape of 0.
   */
  stretchPairs: Uint32Array;
  /** First row of each batch, whose chains share no point, and the end. [batches + 1] */
  stretchBatches: Uint32Array;
  /** [s] */
  stretchRest: Float32Array;
  /** Stiffness of a pair is the fabric's N/m times this: area around the edge over its length squared. [s] */
  stretchShape: Float32Array;
  /** Squared cosine of the angle between the pair and the warp. [s] */
  stretchWarp: Float32Array;
  /** Mean squared sine of the turns within the chains, see `measureKink`. */
  stretchKink: number;
  /** Mean length of the edges, m. */
  spacing: number;
  bend: BendStencil;
  /** Points in the section's own space with their skin weights, for the moving targets. */
  skinned: SkinnedRows & { skin: number };
}

export interface CompileOptions {
  /** Turn of the warp against V of the UVs, rad. Default 0. */
  warpTurn?: number;
  /**
   * `curve` (default): points along a space-filling curve. `natural`: as the file has them;
   * for comparison only.
   */
  order?: 'curve' | 'natural';
}

const ROW_BLOCK = 16;
/** Spare rows: two for each lane, between which padding runs. */
const SPARE_ROWS = 2 * LANES;

/**
 * Makes the simulation data of a section: its own points are the sim mesh.
 *
 * The stiffness of an edge spreads a membrane's stiffness over its edges by area (van Gelder 1998); that of a
 * hinge is the isometric bending energy (Bergou et al. 2006). Both make a cloth behave alike at other densities.
 *
 * Reference: A. van Gelder, *Approximate simulation of elastic membranes by triangulated spring meshes*,
 * J. Graphics Tools 3(2), 1998.
 */
export function compileGarment(
  character: Character,
  sectionIndex: number,
  { warpTurn = 0, order = 'curve' }: CompileOptions = {},
): CompiledGarment {
  const section = character.sections[sectionIndex]!;
  const bind = section.restPositions ?? bindSection(character, sectionIndex);
  const points = orderPoints(section, bind, order);
  const { pointCount, pointOfVertex, vertexOfPoint } = points;
  const triangles = weldTriangles(section.triangles, pointOfVertex);
  const restPositions = new Float32Array(4 * pointCount);
  for (let p = 0; p < pointCount; p++) {
    for (let k = 0; k < 3; k++) restPositions[4 * p + k] = bind[3 * vertexOfPoint[p]! + k]!;
  }
  const areas = computeTriangleAreas(restPositions, triangles, 4);
  const pointAreas = new Float32Array(pointCount);
  for (let i = 0; i < triangles.length; i++) {
    pointAreas[triangles[i]!] = pointAreas[triangles[i]!]! + areas[Math.floor(i / 3)]! / 3;
  }
  const table = buildEdgeTable(triangles, pointCount);
  const warp = computeWarpShares(
    restPositions,
    triangles,
    listCornerUvs(section, pointOfVertex),
    table,
    warpTurn,
  );
  return {
    sectionIndex,
    rowCount: ROW_BLOCK * Math.ceil((pointCount + SPARE_ROWS) / ROW_BLOCK),
    ...points,
    restPositions,
    pointAreas,
    triangles,
    ...compilePairs(restPositions, areas, table, warp, pointCount),
    bend: buildBendStencil(restPositions, areas, table, pointCount),
    skinned: { skin: section.skin, ...gatherSkinnedRows(section, vertexOfPoint) },
  };
}

type PointTables = Pick<CompiledGarment, 'pointCount' | 'weldedOfPoint' | 'pointOfVertex' | 'vertexOfPoint'>;

function orderPoints(section: Section, bind: Float32Array, order: 'curve' | 'natural'): PointTables {
  const welded = weldPoints(section.positions);
  const { pointCount } = welded;
  const positions = new Float32Array(3 * pointCount);
  welded.vertexOfPoint.forEach((vertex, p) => {
    positions.set(bind.subarray(3 * vertex, 3 * vertex + 3), 3 * p);
  });
  const weldedOfPoint =
    order === 'curve' ? orderAlongCurve(positions) : Uint32Array.from({ length: pointCount }, (_, i) => i);
  const pointOfWelded = new Uint32Array(pointCount);
  weldedOfPoint.forEach((from, to) => {
    pointOfWelded[from] = to;
  });
  return {
    pointCount,
    weldedOfPoint,
    pointOfVertex: welded.pointOfVertex.map((point) => pointOfWelded[point]!),
    vertexOfPoint: weldedOfPoint.map((point) => welded.vertexOfPoint[point]!),
  };
}

/** UVs of the corners of the triangles that `weldTriangles` keeps, [t, 3, 2]; null without UVs. */
function listCornerUvs({ triangles, uvs }: Section, pointOfVertex: Uint32Array): Float32Array | null {
  if (!uvs) return null;
  const corners: number[] = [];
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i]!, triangles[i + 1]!, triangles[i + 2]!];
    const [p, q, r] = [pointOfVertex[a]!, pointOfVertex[b]!, pointOfVertex[c]!];
    if (p === q || q === r || r === p) continue;
    for (const vertex of [a, b, c]) corners.push(uvs[2 * vertex]!, uvs[2 * vertex + 1]!);
  }
  return Float32Array.from(corners);
}

type Pairs = Pick<
  CompiledGarment,
  | 'stretchPairs'
  | 'stretchBatches'
  | 'stretchRest'
  | 'stretchShape'
  | 'stretchWarp'
  | 'stretchKink'
  | 'spacing'
>;

function compilePairs(
  rest: Float32Array,
  areas: Float32Array,
  table: EdgeTable,
  warp: Float32Array,
  pointCount: number,
): Pairs {
  const chains = findEdgeChains(table.edges, rest, pointCount);
  const { edges, pairs, batchStart } = packChains(chains, pointCount, pointCount);
  const stretchRest = new Float32Array(edges.length);
  const stretchShape = new Float32Array(edges.length);
  const stretchWarp = new Float32Array(edges.length);
  let total = 0;
  edges.forEach((e, s) => {
    if (e === NO_EDGE) return;
    const t1 = table.triangles[2 * e + 1]!;
    const area = areas[table.triangles[2 * e]!]! + (t1 < 0 ? 0 : areas[t1]!);
    const length = distance(rest, table.edges[2 * e]!, table.edges[2 * e + 1]!);
    stretchRest[s] = length;
    stretchShape[s] = length > 0 ? area / (length * length) : 0;
    stretchWarp[s] = warp[e]!;
    total += length;
  });
  return {
    stretchPairs: pairs,
    stretchBatches: batchStart,
    stretchRest,
    stretchShape,
    stretchWarp,
    stretchKink: measureKink(chains, rest),
    spacing: table.edgeCount > 0 ? total / table.edgeCount : 0,
  };
}
