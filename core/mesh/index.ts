export { castRay, type MeshRayHit } from './cast-ray.ts';
export { buildEdgeTable, type EdgeTable, NO_TRIANGLE } from './edge-table.ts';
export { buildNeighbours, type Neighbours } from './neighbours.ts';
export {
  measureBorderDeviation,
  measureSmallestAngles,
  measureSurface,
  type RemeshOptions,
  remesh,
  type SurfaceFigures,
} from './remesh/index.ts';
export { type SignedDistance, SignedDistanceField } from './signed-distance.ts';
export type { Surface } from './surface.ts';
export { computeSurfaceDistance, listTrianglesOfPoints, type SurfaceDistance } from './surface-distance.ts';
export { computeTriangleAreas } from './triangle-area.ts';
export { computeVertexNormals } from './vertex-normals.ts';
export { type PointMap, weldPoints, weldTriangles } from './weld-points.ts';
