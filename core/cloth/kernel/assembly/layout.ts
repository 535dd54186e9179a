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
  /** Milliseconds by part, `Part` f64s. */
  times,
  /** What was done, counted, `Work` f64s. */
  work,
  /** The same of each body, `BODY_WORK` words: capsules first, hulls from `MOST_CAPSULES` on. */
  bodyWork,
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
  length,
}

/** What the kernel counts while it works; what follows from sizes and settings alone is counted by `ClothSolver`. */
export enum Work {
  /** Triangles of the cloth that were looked at for bodies between their corners, and those that were tried, each in each substep. */
  faceTriangles,
  faceTests,
  /** Places of those that were looked at closely. */
  facePlaces,
  /** Self-collision: boxes against boxes, vertices against vertices, pairs in each substep, and those that were too near. */
  selfBoxes,
  selfLooks,
  selfPairs,
  selfPresses,
  /** The same by triangles, see `self-faces.ts`; with those that were measured to be kept. */
  faceBoxes,
  faceLooks,
  faceCandidates,
  facePairs,
  facePresses,
  /**
   * Garments beneath: triangles moved, vertices that looked for one, blocks and vertices they looked at, those that found one, pairs in
   * each substep; triangles looked at for ridges, and ridges in each substep.
   */
  layerTriangles,
  layerVertices,
  layerBoxes,
  layerLooks,
  layerFinds,
  layerPairs,
  layerRidgeLooks,
  layerRidges,
  /** The same of body meshes, in the same order. */
  meshTriangles,
  meshVertices,
  meshBoxes,
  meshLooks,
  meshFinds,
  meshPairs,
  meshRidgeLooks,
  meshRidges,
  /** Triangles that the wind met, and those of them in gusts that differ from place to place. */
  airTriangles,
  gustTriangles,
  length,
}

/** Words of a body's record of what was done: vertices tested (times planes, of hulls), vertices touched, triangles tried. */
export const BODY_WORK = 4;
/** Most of these bodies; the records of hulls come after those of capsules. */
export const MOST_CAPSULES = 256;
export const MOST_HULLS = 64;

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
