import type { SolverTimes } from './solver-times.ts';

/** One kind of work of a solver. */
interface WorkDefinition {
  key: string;
  /** What takes the time of it. */
  part: keyof SolverTimes;
  /** Kinds of one unit cost the same each. */
  unit: string;
  /** Where its time is booked, when that is not its part: bodies are met in the pass that does all else of a vertex. */
  timedIn?: keyof SolverTimes;
  /** Whether it is done once a frame, however long that is; all else goes by the time that is simulated. */
  isPerFrame?: true;
}

/** All that a solver counts, in the order in which it is told. */
export const SOLVER_WORK = [
  // Edges of stretch and shear, in each pass of each substep; letting pushed ones slide; damping; looking for
  // those that are too long, and bringing them back.
  { key: 'edges', part: 'stretch', unit: 'edge' },
  { key: 'slidingEdges', part: 'stretch', unit: 'slidingEdge' },
  { key: 'dampedEdges', part: 'stretch', unit: 'dampedEdge' },
  { key: 'checkedEdges', part: 'stretch', unit: 'checkedEdge', isPerFrame: true },
  { key: 'shortenedEdges', part: 'stretch', unit: 'shortenedEdge', isPerFrame: true },
  // Terms of the sums over the neighbours of each vertex, in each step of the filter of each substep; and the vertices.
  { key: 'bendTerms', part: 'bend', unit: 'bendTerm' },
  { key: 'bendVertices', part: 'bend', unit: 'bendVertex' },
  { key: 'folds', part: 'bend', unit: 'fold', isPerFrame: true },
  // What there is of a garment in each frame; in each substep; of each vertex in a frame; in a substep, with its tether and max distance.
  { key: 'frames', part: 'reach', unit: 'frame', isPerFrame: true },
  { key: 'substeps', part: 'reach', unit: 'substep' },
  { key: 'frameVertices', part: 'reach', unit: 'frameVertex', isPerFrame: true },
  { key: 'vertices', part: 'reach', unit: 'vertex' },
  { key: 'inwardVertices', part: 'reach', unit: 'inwardVertex' },
  { key: 'inwardTriangles', part: 'reach', unit: 'inwardTriangle', isPerFrame: true },
  // Bodies moved in each substep; blocks of 16 vertices that a body's box was compared with; vertices in those it met; those it touched.
  { key: 'bodies', part: 'bodies', unit: 'body', timedIn: 'reach' },
  { key: 'bodyBlocks', part: 'bodies', unit: 'bodyBlock', timedIn: 'reach' },
  { key: 'bodyVertices', part: 'bodies', unit: 'bodyVertex', timedIn: 'reach' },
  { key: 'touchedVertices', part: 'bodies', unit: 'touchedVertex', timedIn: 'reach' },
  // The same of hulls and boxes, times their planes.
  { key: 'planeVertices', part: 'bodies', unit: 'planeVertex', timedIn: 'reach' },
  // Triangles that were looked at for bodies between their vertices, those that were tried in each substep, and places of them.
  { key: 'faceTriangles', part: 'bodies', unit: 'faceTriangle', timedIn: 'reach', isPerFrame: true },
  { key: 'faceTests', part: 'bodies', unit: 'faceTest', timedIn: 'reach' },
  { key: 'facePlaces', part: 'bodies', unit: 'facePlace', timedIn: 'reach' },
  // Boxes compared; vertices compared with vertices (or triangles, and those measured); pairs in each substep, and those too near.
  { key: 'selfBoxes', part: 'self', unit: 'selfBox', isPerFrame: true },
  { key: 'selfLooks', part: 'self', unit: 'selfLook', isPerFrame: true },
  { key: 'selfPairs', part: 'self', unit: 'selfPair' },
  { key: 'selfPresses', part: 'self', unit: 'selfPress' },
  { key: 'faceBoxes', part: 'self', unit: 'faceBox', isPerFrame: true },
  { key: 'faceLooks', part: 'self', unit: 'faceLook', isPerFrame: true },
  { key: 'faceCandidates', part: 'self', unit: 'faceCandidate' },
  { key: 'facePairs', part: 'self', unit: 'facePair' },
  { key: 'facePresses', part: 'self', unit: 'facePress' },
  // Triangles of a garment beneath moved; vertices that looked for one; blocks and vertices they looked at; those that found one;
  // pairs, ridges, and vertices passed over in each substep.
  { key: 'layerTriangles', part: 'layers', unit: 'surfaceTriangle', isPerFrame: true },
  { key: 'layerVertices', part: 'layers', unit: 'surfaceVertex', isPerFrame: true },
  { key: 'layerBoxes', part: 'layers', unit: 'surfaceBox', isPerFrame: true },
  { key: 'layerLooks', part: 'layers', unit: 'surfaceLook', isPerFrame: true },
  { key: 'layerFinds', part: 'layers', unit: 'surfaceFind', isPerFrame: true },
  { key: 'layerPairs', part: 'layers', unit: 'surfacePair' },
  { key: 'layerRidgeLooks', part: 'layers', unit: 'ridgeLook', isPerFrame: true },
  { key: 'layerRidges', part: 'layers', unit: 'surfaceRidge' },
  { key: 'layerPasses', part: 'layers', unit: 'surfacePass' },
  { key: 'meshTriangles', part: 'bodies', unit: 'surfaceTriangle' },
  { key: 'meshVertices', part: 'bodies', unit: 'surfaceVertex' },
  { key: 'meshBoxes', part: 'bodies', unit: 'surfaceBox' },
  { key: 'meshLooks', part: 'bodies', unit: 'surfaceLook' },
  { key: 'meshFinds', part: 'bodies', unit: 'surfaceFind' },
  { key: 'meshPairs', part: 'bodies', unit: 'surfacePair' },
  { key: 'meshRidgeLooks', part: 'bodies', unit: 'ridgeLook', isPerFrame: true },
  { key: 'meshRidges', part: 'bodies', unit: 'surfaceRidge' },
  { key: 'meshPasses', part: 'bodies', unit: 'surfacePass' },
  // Triangles that the wind met, and those in gusts that differ from place to place.
  { key: 'airTriangles', part: 'air', unit: 'airTriangle' },
  { key: 'gustTriangles', part: 'air', unit: 'gustTriangle' },
] as const satisfies readonly WorkDefinition[];

export type SolverWorkKey = (typeof SOLVER_WORK)[number]['key'];

/** How much of each kind was done. */
export type SolverCounts = Record<SolverWorkKey, number>;

/** What one body made a solver do. */
export interface BodyCounts {
  /** Vertices in blocks that it met; times planes, of hulls and boxes. */
  tested: number;
  touched: number;
  /** Triangles that were tried. */
  faces: number;
}

/** What a solver did since it was asked last. */
export interface SolverWork {
  counts: SolverCounts;
  /** Of each sphere and capsule, then of each hull and box, in the order in which they were given. */
  bodies: BodyCounts[];
}

/** Nothing done. */
export function createCounts(): SolverCounts {
  return Object.fromEntries(SOLVER_WORK.map(({ key }) => [key, 0])) as SolverCounts;
}
