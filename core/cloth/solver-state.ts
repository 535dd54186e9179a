import { listTrianglesOfPoints } from '../mesh/index.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import { MOST_FACE_BODIES } from './kernel/assembly/constants.ts';
import { MOST_CAPSULES, MOST_HULLS } from './kernel/assembly/layout.ts';

/** Gives out the memory of a solver: plain arrays, or pieces of one block that a kernel sees. */
export interface Arena {
  floats(length: number): Float32Array;
  words(length: number): Uint32Array;
}

export const PLAIN_ARENA: Arena = {
  floats: (length) => new Float32Array(length),
  words: (length) => new Uint32Array(length),
};

/** Another surface that a garment keeps off: a garment beneath, or a reduced body mesh. */
export interface SurfaceTopology {
  pointCount: number;
  /** [t, 3] counter-clockwise from outside. */
  triangles: Uint32Array;
  /** Mean edge length, m. */
  spacing: number;
  /** It stands for a body: while it or the cloth is fast, it is looked for anew in every substep, so that nothing passes. */
  isBody?: boolean;
  /** Beyond the thickness that keeps cloth off bodies, m: how far it is kept off this one at first. Default 0. */
  margin?: number;
}

/** Most planes of all hulls that one garment collides with at once. */
export const MOST_PLANES = 1024;
/** Candidates for self-collision that one point keeps from frame to frame. */
export const SELF_CANDIDATES = 16;
/** Points that the hand pulls at once. */
export const MOST_PULLED = 64;

/** Everything a solver reads and writes, for both solvers alike. R rows, n points; rows are xyzw. */
export interface SolverState {
  /** [R, 4] m, m/s, m. Where the points are, how fast, and where they would be at the end of the substep. */
  positions: Float32Array;
  velocities: Float32Array;
  predicted: Float32Array;
  /** Skinned places at the start and end of the frame, and the normals of the skinned surface. [R, 4] */
  targets: Float32Array;
  nextTargets: Float32Array;
  targetNormals: Float32Array;
  /** 1/kg, 0 for held points. [R] */
  inverseMasses: Float32Array;
  /** Rows of the held points, the first `FrameNumbers.heldCount` of them. [R] */
  heldRows: Uint32Array;
  /** Max distance, 0 for held points. [R] */
  reach: Float32Array;
  /** From a target to the centre of its inward limit's sphere, and the radius; negative: no limit. [R, 4] */
  inward: Float32Array;
  inwardDepths: Float32Array;
  /** What gravity and the air add to each velocity in a substep, m/s. [R, 4] */
  pushes: Float32Array;
  /** Share of its velocity that a point keeps in a substep. [R] */
  velocityRetention: Float32Array;
  /** Row of the held point that a tether goes to, and its longest length, m. [R] */
  tetherAnchors: Uint32Array;
  tetherLengths: Float32Array;
  /** Stretch pairs in the rows and lanes of their chains; and the first row of each batch. [s, 2], [batches + 1] */
  pairs: Uint32Array;
  pairBatches: Uint32Array;
  /** Shortest and longest length at which a pair is without force, and the one of now between them, m. [s] each */
  pairLow: Float32Array;
  pairHigh: Float32Array;
  pairRest: Float32Array;
  /**
   * Compliance α̃ of a pair, 1/kg; and with it the inverse mass of the point where it begins, unless it follows on the pair above
   * it in its lane. INERT in slots that do nothing. [s] each
   */
  pairSoftness: Float32Array;
  pairSum: Float32Array;
  /** Inverse mass of the point where a pair follows on the one above it; 0 where it does not. [s] */
  pairCoupling: Float32Array;
  /** Inverse mass of the point where a pair ends. [s] */
  pairEndMass: Float32Array;
  /** Multipliers over length, for the passes after the first: kg/m. [s] */
  pairMultipliers: Float32Array;
  /** Of threads that give way: how far each may be pushed first, m; largest strain around each point. [s], [R] */
  pairHolds: Float32Array;
  pointTensions: Float32Array;
  /** Share of relative speed along the pair that thread damping takes off each end in a frame. [s] */
  pairDampA: Float32Array;
  pairDampB: Float32Array;
  /** [t, 3]; and how strongly air acts on it, 0: not at all. [t] */
  triangles: Uint32Array;
  aeroScale: Float32Array;
  /** Faces that bodies may come through, see `findFaceContacts`. [MOST_FACE_BODIES t, 2] */
  faceContacts: Uint32Array;
  /** Bending, see `constraints/bend.ts`: rows of the stencil with their factors, [n + 1], [k], [k]. */
  bendStart: Uint32Array;
  bendColumns: Uint32Array;
  bendValues: Float32Array;
  /** What the curvature at rest adds to each point in a step, m. [R, 4] */
  bendRest: Float32Array;
  /** Places between the steps of the bend filter. [2, R, 4] */
  bendPositions: Float32Array;
  /** Hinges: points and weights, [b, 4]; rest curvature as it is now (folds yield), m, [b]; twice the edge, m, [b]. */
  hingeQuads: Uint32Array;
  hingeWeights: Float32Array;
  hingeCurvatures: Float32Array;
  hingeDoubleLengths: Float32Array;
  /** One over the doubled areas of the two triangles at rest, 1/m². [b, 2] */
  hingeInverseAreas: Float32Array;
  /** From a hinge's rest curvature to the `bendRest` rows of its points. [b, 4] */
  foldShares: Float32Array;
  /** Tapered capsules in the world, [m, 8] ax ay az ra bx by bz rb, at the start and end of the frame. */
  capsulesFrom: Float32Array;
  capsulesTo: Float32Array;
  /** Hulls: planes nx ny nz d at the start and end of the frame; which are whose; boxes; and the motion. */
  planesFrom: Float32Array;
  planesTo: Float32Array;
  hulls: Uint32Array;
  hullBoxesFrom: Float32Array;
  hullBoxesTo: Float32Array;
  /** Way of a place x of the hull in the frame: A x + b, rows of 12: A by columns, then b. */
  hullMotions: Float32Array;
  /** Least half width, m. */
  hullSizes: Float32Array;
  surfaces: SurfaceState[];
  /** Triangles in the order of the points, and in that order their centres, with how far each reaches (w). [t], [t, 4] */
  faceOrder: Uint32Array;
  faceCentres: Float32Array;
  /** Triangles that touch a point or one of its neighbours: [n + 1], [k]; and which of them are marked, by one more than the point, [t]. */
  besideStart: Uint32Array;
  besideList: Uint32Array;
  besideMarks: Uint32Array;
  /** Self-collision candidates: pairs of rows, or see `findSelfFaces`. [16 n, 2] */
  selfPairs: Uint32Array;
  /** Work arrays of the spatial hash, large enough for any of its uses. */
  hashStart: Uint32Array;
  hashList: Uint32Array;
  hashCells: Uint32Array;
  /** Rows that are pulled; where to, and how strongly (w). */
  pulledRows: Uint32Array;
  pulledPositions: Float32Array;
  goodPositions: Float32Array;
  goodVelocities: Float32Array;
}

export interface SurfaceState {
  isBody: boolean;
  /** See `SurfaceTopology`. */
  margin: number;
  /** How far off it cloth is kept in this frame, m; 0: it is not met. */
  distance: number;
  pointCount: number;
  triangleCount: number;
  spacing: number;
  /** [p, 4] at the start and end of the frame. */
  from: Float32Array;
  to: Float32Array;
  /** The same of a substep of a body, [p, 4]; empty of others. */
  subFrom: Float32Array;
  subTo: Float32Array;
  /** At the end of the frame, [p, 4]. */
  normals: Float32Array;
  triangles: Uint32Array;
  /** Triangles around each point: [p + 1], [3 t]. */
  aroundStart: Uint32Array;
  aroundList: Uint32Array;
  /** Of each garment point: the triangle it is near (or NONE), and whether it came from outside. [R] */
  nearest: Uint32Array;
  /** How far each garment point may move in this frame before it can touch, m. [R] */
  clearances: Float32Array;
  /** Of the triangles at the start of the frame, [t, 4]. */
  centres: Float32Array;
  /** One more than the surface's point that each garment point was nearest to; 0: none. A guess to start from. [R] */
  nearPoints: Uint32Array;
  /** One more than the garment point that is nearest to each of those that are nearest to it; 0: none. [p] */
  over: Uint32Array;
  /** How far each point stands out of those around it, m; 0: little. [p] */
  rises: Float32Array;
  /** Places that stand out, see `findRidgeContacts`. [p + 3 t, 3] */
  ridgeContacts: Uint32Array;
  /** Which blocks of garment points look for it in every substep, see `noteFastBlocks`. [R / 16] */
  fastBlocks: Uint32Array;
}

/** No triangle. */
export const NONE = 0xffffffff;
/** Cells of the spatial hash; a power of two. */
export const HASH_CELLS = 4096;

/** The arrays of a solver for a compiled garment, filled with what follows from the garment alone. */
export function allocateState(
  garment: CompiledGarment,
  surfaces: readonly SurfaceTopology[],
  arena: Arena,
): SolverState {
  const { rowCount, pointCount } = garment;
  const { hinges } = garment.bend;
  const rows = (): Float32Array => arena.floats(4 * rowCount);
  const pairCount = garment.stretchRest.length;
  const perPair = (): Float32Array => arena.floats(pairCount);
  const hashed = Math.max(
    rowCount,
    garment.triangles.length / 3,
    ...surfaces.map((surface) => surface.pointCount),
  );
  const beside = listBeside(garment.triangles, pointCount);
  const state: SolverState = {
    positions: rows(),
    velocities: rows(),
    predicted: rows(),
    targets: rows(),
    nextTargets: rows(),
    targetNormals: rows(),
    inverseMasses: arena.floats(rowCount),
    heldRows: arena.words(rowCount),
    reach: arena.floats(rowCount),
    inward: rows(),
    inwardDepths: arena.floats(rowCount),
    pushes: rows(),
    velocityRetention: arena.floats(rowCount),
    tetherAnchors: arena.words(rowCount),
    tetherLengths: arena.floats(rowCount),
    pairs: copyWords(arena, garment.stretchPairs),
    pairBatches: copyWords(arena, garment.stretchBatches),
    pairLow: perPair(),
    pairHigh: perPair(),
    pairRest: copyFloats(arena, garment.stretchRest),
    pairSoftness: perPair(),
    pairSum: perPair(),
    pairCoupling: perPair(),
    pairEndMass: perPair(),
    pairMultipliers: perPair(),
    pairHolds: perPair(),
    pointTensions: arena.floats(rowCount),
    pairDampA: perPair(),
    pairDampB: perPair(),
    triangles: copyWords(arena, garment.triangles),
    aeroScale: arena.floats(garment.triangles.length / 3),
    faceContacts: arena.words((2 * MOST_FACE_BODIES * garment.triangles.length) / 3),
    bendStart: copyWords(arena, garment.bend.start),
    bendColumns: copyWords(arena, garment.bend.columns),
    bendValues: arena.floats(garment.bend.columns.length),
    bendRest: rows(),
    bendPositions: arena.floats(8 * rowCount),
    hingeQuads: copyWords(arena, hinges.quads),
    hingeWeights: copyFloats(arena, hinges.weights),
    hingeCurvatures: copyFloats(arena, hinges.rest),
    hingeDoubleLengths: copyFloats(
      arena,
      hinges.lengths.map((length) => 2 * length),
    ),
    hingeInverseAreas: copyFloats(arena, hinges.inverseAreas),
    foldShares: arena.floats(hinges.quads.length),
    capsulesFrom: arena.floats(8 * MOST_CAPSULES),
    capsulesTo: arena.floats(8 * MOST_CAPSULES),
    planesFrom: arena.floats(4 * MOST_PLANES),
    planesTo: arena.floats(4 * MOST_PLANES),
    hulls: arena.words(MOST_HULLS + 1),
    hullBoxesFrom: arena.floats(8 * MOST_HULLS),
    hullBoxesTo: arena.floats(8 * MOST_HULLS),
    hullMotions: arena.floats(12 * MOST_HULLS),
    hullSizes: arena.floats(MOST_HULLS),
    surfaces: surfaces.map((surface) => allocateSurface(surface, rowCount, arena)),
    faceOrder: copyWords(arena, orderFaces(garment.triangles)),
    faceCentres: arena.floats((4 * garment.triangles.length) / 3),
    besideStart: copyWords(arena, beside.start),
    besideList: copyWords(arena, beside.list),
    besideMarks: arena.words(garment.triangles.length / 3),
    selfPairs: arena.words(2 * SELF_CANDIDATES * pointCount),
    hashStart: arena.words(HASH_CELLS + 1),
    hashList: arena.words(hashed),
    hashCells: arena.words(hashed),
    pulledRows: arena.words(MOST_PULLED),
    pulledPositions: arena.floats(4 * MOST_PULLED),
    goodPositions: rows(),
    goodVelocities: rows(),
  };
  state.inward.fill(-1);
  state.tetherLengths.fill(NO_TETHER);
  return state;
}

/** Length of a tether that is none, m: longer than any cloth, and its square is finite. */
export const NO_TETHER = 1e12;

function allocateSurface(surface: SurfaceTopology, rowCount: number, arena: Arena): SurfaceState {
  const { pointCount, triangles, spacing, isBody = false, margin = 0 } = surface;
  const around = listTrianglesOfPoints(triangles, pointCount);
  return {
    isBody,
    margin,
    distance: 0,
    pointCount,
    triangleCount: triangles.length / 3,
    spacing,
    from: arena.floats(4 * pointCount),
    to: arena.floats(4 * pointCount),
    subFrom: arena.floats(isBody ? 4 * pointCount : 0),
    subTo: arena.floats(isBody ? 4 * pointCount : 0),
    normals: arena.floats(4 * pointCount),
    triangles: copyWords(arena, triangles),
    aroundStart: copyWords(arena, around.start),
    aroundList: copyWords(arena, around.list),
    nearest: arena.words(rowCount),
    clearances: arena.floats(rowCount),
    nearPoints: arena.words(rowCount),
    over: arena.words(pointCount),
    rises: arena.floats(pointCount),
    ridgeContacts: arena.words(3 * (pointCount + triangles.length)),
    fastBlocks: arena.words(Math.ceil(rowCount / 16)),
    centres: arena.floats((4 * triangles.length) / 3),
  };
}

/** Triangles by their first point, which lie along a curve that fills space: those that follow each other are near each other. */
function orderFaces(triangles: Uint32Array): Uint32Array {
  const least = (t: number): number =>
    Math.min(triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!);
  return Uint32Array.from({ length: triangles.length / 3 }, (_, t) => t).sort(
    (p, q) => least(p) - least(q) || p - q,
  );
}

type PointLists = ReturnType<typeof listTrianglesOfPoints>;

/** By the triangles that they follow from: each run of a garment asks for them anew. */
const knownBeside = new WeakMap<Uint32Array, PointLists>();

/** Triangles that touch a point or one of its neighbours. */
function listBeside(triangles: Uint32Array, pointCount: number): PointLists {
  const known = knownBeside.get(triangles);
  if (known) return known;
  const made = findBeside(triangles, pointCount);
  knownBeside.set(triangles, made);
  return made;
}

function findBeside(triangles: Uint32Array, pointCount: number): PointLists {
  const around = listTrianglesOfPoints(triangles, pointCount);
  const start = new Uint32Array(pointCount + 1);
  const list: number[] = [];
  for (let p = 0; p < pointCount; p++) {
    const found = new Set<number>();
    for (const own of around.list.subarray(around.start[p]!, around.start[p + 1]!))
      for (const corner of triangles.subarray(3 * own, 3 * own + 3))
        for (const t of around.list.subarray(around.start[corner]!, around.start[corner + 1]!)) found.add(t);
    list.push(...found);
    start[p + 1] = list.length;
  }
  return { start, list: Uint32Array.from(list) };
}

function copyWords(arena: Arena, values: Uint32Array): Uint32Array {
  const copy = arena.words(values.length);
  copy.set(values);
  return copy;
}

function copyFloats(arena: Arena, values: Float32Array): Float32Array {
  const copy = arena.floats(values.length);
  copy.set(values);
  return copy;
}
