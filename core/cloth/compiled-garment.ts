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
import { distance } from './compile/hinges.ts';
import { PACK, packPairs } from './compile/pack-pairs.ts';
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
   * Pairs held at a distance (mesh edges), in packs of four that share no point; [s, 2]. Empty places of a pack
   * join two spare rows, with a shape of 0.
   */
  stretchPairs: Uint32Array;
  /** [s] */
  stretchRest: Float32Array;
  /** Stiffness of a pair is the fabric's N/m times this: area around the edge over its length squared. [s] */
  stretchShape: Float32Array;
  /** Squared cosine of the angle between the pair and the warp. [s] */
  stretchWarp: Float32Array;
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
   * `curve` (default): points along a space-filling curve, pairs in packs. `natural`: both as the file has them;
   * for comparison only.
   */
  order?: 'curve' | 'natural';
}

const ROW_BLOCK = 16;
/** Spare rows: an empty place of a pack uses two that no other place of it uses. */
const SPARE_ROWS = 2 * PACK;

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
    ...compilePairs(restPositions, areas, table, warp, pointCount, order),
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

function compilePairs(
  rest: Float32Array,
  areas: Float32Array,
  table: EdgeTable,
  warp: Float32Array,
  pointCount: number,
  order: 'curve' | 'natural',
): Pick<CompiledGarment, 'stretchPairs' | 'stretchRest' | 'stretchShape' | 'stretchWarp' | 'spacing'> {
  const places =
    order === 'curve'
      ? packPairs(table.edges, pointCount)
      : Int32Array.from({ length: PACK * Math.ceil(table.edgeCount / PACK) }, (_, e) =>
          e < table.edgeCount ? e : -1,
        );
  const stretchPairs = new Uint32Array(2 * places.length);
  const stretchRest = new Float32Array(places.length);
  const stretchShape = new Float32Array(places.length);
  const stretchWarp = new Float32Array(places.length);
  let total = 0;
  places.forEach((e, s) => {
    if (e < 0) {
      stretchPairs[2 * s] = pointCount + 2 * (s % PACK);
      stretchPairs[2 * s + 1] = pointCount + 2 * (s % PACK) + 1;
      return;
    }
    const a = table.edges[2 * e]!;
    const b = table.edges[2 * e + 1]!;
    const t1 = table.triangles[2 * e + 1]!;
    const area = areas[table.triangles[2 * e]!]! + (t1 < 0 ? 0 : areas[t1]!);
    const length = distance(rest, a, b);
    stretchPairs[2 * s] = a;
    stretchPairs[2 * s + 1] = b;
    stretchRest[s] = length;
    stretchShape[s] = length > 0 ? area / (length * length) : 0;
    stretchWarp[s] = warp[e]!;
    total += length;
  });
  const spacing = table.edgeCount > 0 ? total / table.edgeCount : 0;
  return { stretchPairs, stretchRest, stretchShape, stretchWarp, spacing };
}
