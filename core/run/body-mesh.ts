import { orderAlongCurve, type SurfaceTopology } from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import { weldPoints, weldTriangles } from '../mesh/index.ts';
import { gatherSkinnedRows, type Section, type SkinnedRows, skinPoints } from '../rig/index.ts';

/** A skinned mesh that stands for the body, few enough triangles to be tested against. */
export interface BodyMesh extends SurfaceTopology {
  skin: number;
  rows: SkinnedRows;
  /** Way of each point by each morph target of the section, [p, 3] m. */
  morphs: readonly Float32Array[];
}

/** A mesh as a garment meets it. */
export interface MetMesh {
  /** Null for skin that is met as it is. */
  id: RecordId | null;
  mesh: BodyMesh;
  /** Section whose morph targets move it; null: it stays as it is but for its joints. */
  sectionIndex: number | null;
  /** Beyond the fabric's thickness, m. */
  margin: number;
}

/** A section as a body mesh: its own points, along a curve as solvers search them fastest, and triangles. */
export function createBodyMesh(section: Section): BodyMesh {
  const welded = weldPoints(section.positions);
  const { pointCount } = welded;
  const positions = new Float32Array(3 * pointCount);
  welded.vertexOfPoint.forEach((vertex, p) => {
    positions.set(section.positions.subarray(3 * vertex, 3 * vertex + 3), 3 * p);
  });
  const order = orderAlongCurve(positions);
  const placeOf = new Uint32Array(pointCount);
  order.forEach((from, to) => {
    placeOf[from] = to;
  });
  const triangles = weldTriangles(
    section.triangles,
    welded.pointOfVertex.map((point) => placeOf[point]!),
  );
  const vertices = order.map((point) => welded.vertexOfPoint[point]!);
  const rows = gatherSkinnedRows(section, vertices);
  return {
    skin: section.skin,
    rows,
    morphs: section.morphs.map((morph) => gatherPlaces(morph.positions, vertices)),
    pointCount,
    triangles,
    spacing: measureSpacing(rows.positions, triangles),
    isBody: true,
  };
}

/**
 * @param positions - [p, 4], overwritten. @param skinMatrices - Of the mesh's skin.
 * @param morphWeights - Of its section; null: none.
 */
export function poseBodyMesh(
  { rows, morphs }: BodyMesh,
  skinMatrices: Float32Array,
  positions: Float32Array,
  morphWeights: ArrayLike<number> | null = null,
): void {
  skinPoints(moveByMorphs(rows, morphs, morphWeights), skinMatrices, positions, 4);
}

function moveByMorphs(
  rows: SkinnedRows,
  morphs: readonly Float32Array[],
  weights: ArrayLike<number> | null,
): SkinnedRows {
  if (!weights || morphs.every((_, m) => !weights[m])) return rows;
  const positions = rows.positions.slice();
  morphs.forEach((ways, m) => {
    const weight = weights[m]!;
    if (weight !== 0) for (let i = 0; i < ways.length; i++) positions[i] = positions[i]! + weight * ways[i]!;
  });
  return { ...rows, positions };
}

function gatherPlaces(places: Float32Array, vertices: Uint32Array): Float32Array {
  const gathered = new Float32Array(3 * vertices.length);
  vertices.forEach((v, p) => {
    gathered.set(places.subarray(3 * v, 3 * v + 3), 3 * p);
  });
  return gathered;
}

/** Mean edge length, m. */
function measureSpacing(positions: Float32Array, triangles: Uint32Array): number {
  let sum = 0;
  for (let i = 0; i < triangles.length; i++) {
    const p = 3 * triangles[i]!;
    const q = 3 * triangles[i % 3 === 2 ? i - 2 : i + 1]!;
    const [x, y, z] = [0, 1, 2].map((k) => positions[q + k]! - positions[p + k]!) as [number, number, number];
    sum += Math.sqrt(x * x + y * y + z * z);
  }
  return triangles.length > 0 ? sum / triangles.length : 0;
}
