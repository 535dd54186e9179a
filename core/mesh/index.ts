export { castRay, type MeshRayHit } from './cast-ray.ts';
export { applyLaplacian, buildCotangentLaplacian, type CotangentLaplacian } from './cotangent-laplacian.ts';
export { buildEdgeTable, type EdgeTable, listBorderPoints, NO_TRIANGLE } from './edge-table.ts';
export { fillSmoothly } from './fill-smoothly.ts';
export { findInnerSide } from './find-inner-side.ts';
export * from './health/index.ts';
export { joinNearVertices } from './join-near-vertices.ts';
export { judgeSides, type SidesVerdict } from './judge-sides.ts';
export { listDuplicateFaces } from './list-duplicate-faces.ts';
export { listUvSeams } from './list-uv-seams.ts';
export { type MatchOptions, matchSurface, type SurfaceMatch } from './match-surface.ts';
export { measureCorner } from './measure-corner.ts';
export { measureDistance } from './measure-distance.ts';
export { measureOnTriangle } from './measure-on-triangle.ts';
export { MinHeap } from './min-heap.ts';
export { buildNeighbours, type Neighbours } from './neighbours.ts';
export { growFaces, invertFaces, pickAround, pickIslands, pickPieces, shrinkFaces } from './pick-faces.ts';
export { computeMiddle, findSeenFaces, isInsideOutline } from './pick-lasso.ts';
export { buildPointNeighbours } from './point-neighbours.ts';
export {
  compareSurfaces,
  distanceToSegment,
  estimateRemesh,
  fitSurface,
  listFaults,
  type MendedSource,
  measureBorderDeviation,
  measureDeviation,
  measureSmallestAngles,
  measureSurface,
  mendSource,
  type ReduceOptions,
  type RemeshEstimate,
  type RemeshOptions,
  reduceSurface,
  refuseTooDear,
  remesh,
  type SurfaceComparison,
  type SurfaceDeviation,
  type SurfaceFigures,
} from './remesh/index.ts';
export { findSurfacePositions, type SurfacePosition, sampleField } from './sample-field.ts';
export { type SignedDistance, SignedDistanceField } from './signed-distance.ts';
export type { Surface } from './surface.ts';
export { computeSurfaceDistance, type SurfaceDistance } from './surface-distance.ts';
export { type FrontSeed, SurfaceFront } from './surface-front.ts';
export { computeTriangleAreas } from './triangle-area.ts';
export { listTrianglesOfPoints } from './triangles-of-points.ts';
export { computeVertexNormals } from './vertex-normals.ts';
export { type PointMap, type WeldedIndex, weldPoints, weldTriangles } from './weld-points.ts';
export { WindingNumber } from './winding-number.ts';
