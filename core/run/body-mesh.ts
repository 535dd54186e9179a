import { orderAlongCurve, type SurfaceTopology } from '../cloth/index.ts';
import { weldPoints, weldTriangles } from '../mesh/index.ts';
import { gatherSkinnedRows, type Section, type SkinnedRows, skinPoints } from '../rig/index.ts';

/** A skinned mesh that stands for the body, few enough triangles to be tested against. */
export interface BodyMesh extends SurfaceTopology {
  skin: number;
  rows: SkinnedRows;
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
  const rows = gatherSkinnedRows(
    section,
    order.map((point) => welded.vertexOfPoint[point]!),
  );
  return {
    skin: section.skin,
    rows,
    pointCount,
    triangles,
    spacing: measureSpacing(rows.positions, triangles),
    isBody: true,
  };
}

/** @param positions - [p, 4], overwritten. @param skinMatrices - Of the mesh's skin. */
export function poseBodyMesh({ rows }: BodyMesh, skinMatrices: Float32Array, positions: Float32Array): void {
  skinPoints(rows, skinMatrices, positions, 4);
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
