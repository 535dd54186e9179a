export { assert, checkLength } from './assert.ts';
export { type Bounds, boundPlaces, measureDiagonal } from './bound-places.ts';
export { writeClosestWeights } from './closest-weights.ts';
export { concatenate } from './concatenate.ts';
export { DisjointSets } from './disjoint-sets.ts';
export {
  composeMatrix,
  IDENTITY_MATRIX,
  invertAffine,
  meanScale,
  multiplyMatrices,
  type NumberArray,
  transformPoint,
} from './matrix.ts';
export { percentile } from './percentile.ts';
export { findPrincipalAxes, measureExtent, type PrincipalAxes } from './principal-axes.ts';
export { createRandom } from './random.ts';
export {
  anglesOfRotation,
  multiplyRotations,
  normaliseRotation,
  pickAcross,
  type Rotation,
  rotate,
  rotationBetween,
  rotationFromAngles,
  rotationFromAxes,
} from './rotations.ts';
export { sampleTriangle, TRIANGLE_SAMPLES } from './sample-triangle.ts';
export { solveConjugate } from './solve-conjugate.ts';
export { solveDense } from './solve-dense.ts';
export { solveNonNegative } from './solve-non-negative.ts';
export { type ClosestPoint, type RayHit, SpatialIndex } from './spatial-index.ts';
export { tellCount, tellVertices } from './tell-count.ts';
export { squaredToTriangle } from './triangle-distance.ts';
export { arcCosine, cosine, sine } from './trigonometry.ts';
export {
  addScaled,
  cross,
  distanceBetween,
  dot,
  type MutableVector3,
  normalise,
  subtract,
  type Vector3,
  writeTriangleCross,
} from './vectors.ts';
