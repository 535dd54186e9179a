export { castRay, type MeshRayHit } from './cast-ray.ts';
export { buildEdgeTable, type EdgeTable, NO_TRIANGLE } from './edge-table.ts';
export { buildNeighbours, type Neighbours } from './neighbours.ts';
export { type SignedDistance, SignedDistanceField } from './signed-distance.ts';
export { computeSurfaceDistance, listTrianglesOfPoints, type SurfaceDistance } from './surface-distance.ts';
export { computeTriangleAreas } from './triangle-area.ts';
export { computeVertexNormals } from './vertex-normals.ts';
export { type PointMap, weldPoints, weldTriangles } from './weld-points.ts';
