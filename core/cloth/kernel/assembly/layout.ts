/**
 * Where host and kernel meet: a table of 32-bit numbers at `HEADER`, one per slot, first addresses (bytes), then
 * counts, then floats. Compiled by both sides, so that they cannot disagree.
 */
export const HEADER = 8192;
/** First byte that the host may give out. */
export const ARENA_START = 16384;

export enum Slot {
  // Addresses of the arrays of `SolverState`, as they are named there.
  positions,
  velocities,
  predicted,
  targets,
  nextTargets,
  targetNormals,
  inverseMasses,
  heldRows,
  reach,
  inward,
  inwardDepths,
  pushes,
  velocityRetention,
  tetherAnchors,
  tetherLengths,
  pairs,
  pairBatches,
  pairLow,
  pairHigh,
  pairRest,
  pairSoftness,
  pairSum,
  pairCoupling,
  pairEndMass,
  pairMultipliers,
  pairHolds,
  pointTensions,
  pairDampA,
  pairDampB,
  triangles,
  aeroScale,
  faceContacts,
  bendStart,
  bendColumns,
  bendValues,
  bendRest,
  bendPositions,
  hingeQuads,
  hingeWeights,
  hingeCurvatures,
  hingeDoubleLengths,
  hingeInverseAreas,
  foldShares,
  capsulesFrom,
  capsulesTo,
  planesFrom,
  planesTo,
  hulls,
  hullBoxesFrom,
  hullBoxesTo,
  hullMotions,
  hullSizes,
  faceOrder,
  besideStart,
  besideList,
  besideMarks,
  selfPairs,
  goodPositions,
  pulledRows,
  pulledPositions,
  // Of the kernel alone.
  restPositions,
  waves,
  /** The same by fours, see `air.ts`. */
  turnedWaves,
  bendCoefficients,
  /** Table of surfaces, `Surface` slots each. */
  surfaces,
  /** The moving targets by fours of points: x x x x y y y y z z z z, start and way of the frame. */
  targetStarts,
  targetDisplacements,
  /** Prepared bodies, `CONE_BYTES` and `HULL_BYTES` each; and the planes of the hulls as they stand. */
  capsules,
  hullBoxes,
  planes,
  /** Box of each 16 points at the start of the substep: low, high. */
  boxes,
  /** For finding what is near: places by fours of points, boxes of each 16, and a list of blocks. */
  searchTurned,
  searchBoxes,
  searchList,
  /** The same for triangles, see `self-faces.ts`. */
  faceQuads,
  faceBoxes,
  faceList,
  /** Pairs that a frame left too long. */
  longPairs,
  substepStarts,
  /** Of the rows of one batch of chains: direction (by coordinate), what is left of coupling and right side. */
  chainRows,
  /** Work space of one block of points. */
  block,
  /** Milliseconds by part, `Part` f64s; and how many body tests and point steps there were, for their split. */
  times,
  // Counts and flags.
  index,
  pointCount,
  rowCount,
  pairCount,
  batchCount,
  triangleCount,
  hingeCount,
  capsuleCount,
  hullCount,
  heldCount,
  surfaceCount,
  pulledCount,
  substeps,
  iterations,
  airEvery,
  bendSteps,
  hasEdgeDamping,
  givesWay,
  hasInward,
  isSelfByFaces,
  // Floats.
  seconds,
  h,
  density,
  gravity,
  foldMemory,
  plasticYieldAngle,
  thickness,
  friction,
  selfDistance,
  layerMargin,
  airDrag,
  airLift,
  largestFace,
  windX,
  windY,
  windZ,
  bendMean,
  length,
}

export enum Surface {
  from,
  to,
  subFrom,
  subTo,
  normals,
  triangles,
  aroundStart,
  aroundList,
  nearest,
  clearances,
  centres,
  nearPoints,
  over,
  rises,
  ridgeContacts,
  fastBlocks,
  pointCount,
  triangleCount,
  ridgeCount,
  spacing,
  /** How far off it cloth is kept, m. */
  distance,
  isBody,
  /** Whether it is looked for in every substep of this frame. */
  isFast,
  length,
}

export enum Part {
  stretch,
  bend,
  reach,
  self,
  layers,
  /** Surfaces that stand for bodies. */
  meshes,
  air,
  /** Counters, not times: tests of a body against a block, of a body against four points, and fours of points. */
  blockTests,
  quadTests,
  quads,
  length,
}

export const CAPSULE_BYTES = 128;
export const HULL_BYTES = 64;
/** Which side of a triangle a point of the same garment is over. */
export enum Over {
  front,
  back,
  /** Beside it: neither. */
  none,
}

/** Bytes of the work space of a block: place and start of 16 points, by coordinate. */
export const BLOCK_BYTES = 384;
/** Bytes of one row of a batch of chains in the work space. */
export const CHAIN_ROW_BYTES = 80;
