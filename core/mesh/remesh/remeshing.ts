import { SpatialIndex } from '../../math/index.ts';
import type { Surface } from '../surface.ts';
import { EditableMesh, NO_CHAIN } from './editable-mesh.ts';
import {
  buildFeaturePolylines,
  chooseSpacing,
  type FeaturePolyline,
  getDisplacement,
} from './feature-polylines.ts';
import { listFeatureEdges } from './list-feature-edges.ts';

/** Edges outside these shares of the wished length are split or collapsed (Botsch & Kobbelt 2004, §4). */
export const SPLIT_SHARE = 4 / 3;
export const COLLAPSE_SHARE = 4 / 5;
/** Lines are not given edges shorter than this share of the wished length. */
export const SHORTEST_LINE_EDGE = 0.25;
/** Distance between a chord and its line at full and at no border detail, as shares of the edge length. */
const [FINE_TOLERANCE, COARSE_TOLERANCE] = [0.018, 1];

/** A mesh that may be one half of a symmetric one. */
export interface Cut {
  readonly mesh: EditableMesh;
  /** The points in the plane x = 0 are where the surface was cut. */
  readonly isHalf: boolean;
}

/** What the passes of remeshing work on. */
export interface Remeshing extends Cut {
  readonly source: Surface;
  /** Of the source. */
  readonly index: SpatialIndex;
  readonly polylines: readonly FeaturePolyline[];
  /** Wished, m. */
  readonly edgeLength: number;
  /** Wished length of edges at each point, m. */
  sizes: number[];
}

export interface RemeshingOptions {
  edgeLength: number;
  borderDetail: number;
  sharpAngle: number;
  lines: Uint32Array | undefined;
  /** The border in the plane x = 0 is where the surface was cut. */
  isHalf: boolean;
}

/** The mesh to begin with, its lines found and measured. @param source - Mended. */
export function createRemeshing(
  source: Surface,
  { edgeLength, borderDetail, sharpAngle, lines, isHalf }: RemeshingOptions,
): Remeshing {
  const mesh = new EditableMesh(source);
  const polylines = buildFeaturePolylines(mesh, listFeatureEdges(source, Math.cos(sharpAngle), lines));
  // Geometric between the two, so that the control feels even.
  const tolerance = edgeLength * COARSE_TOLERANCE * (FINE_TOLERANCE / COARSE_TOLERANCE) ** borderDetail;
  for (const polyline of polylines) {
    const isCut = isHalf && polyline.positions.every((value, i) => i % 3 !== 0 || value === 0);
    const within = isCut ? Number.POSITIVE_INFINITY : tolerance;
    polyline.spacing = chooseSpacing(polyline, edgeLength, SHORTEST_LINE_EDGE * edgeLength, within);
  }
  const index = new SpatialIndex(source.positions.slice(), source.triangles);
  return { mesh, source, index, polylines, edgeLength, isHalf, sizes: [] };
}

/** Wished length of an edge, m. */
export function targetLength(state: Remeshing, a: number, b: number): number {
  const polyline = state.mesh.getEdgePolyline(a, b);
  if (polyline !== NO_CHAIN) return state.polylines[polyline]!.spacing;
  return (state.sizes[a]! + state.sizes[b]!) / 2;
}

/** Length of an edge, m: along its line where it has one. */
export function measureEdge(state: Remeshing, a: number, b: number): number {
  const polyline = state.mesh.getEdgePolyline(a, b);
  return polyline === NO_CHAIN ? state.mesh.getLength(a, b) : lengthOnPolyline(state, polyline, a, b);
}

/** Length of an edge along its line, m. */
function lengthOnPolyline(state: Remeshing, polyline: number, a: number, b: number): number {
  const line = state.polylines[polyline]!;
  return Math.abs(getDisplacement(state.mesh, line, a) - getDisplacement(state.mesh, line, b));
}

/** Whether a point is on a line, or fixed. */
export function isBound(state: Remeshing, point: number): boolean {
  return state.mesh.isFixed[point]! || state.mesh.polylines[point] !== NO_CHAIN;
}

/** Whether a point lies in the plane along which a symmetric source was cut. */
export function isOnCut(state: Cut, point: number): boolean {
  return state.isHalf && state.mesh.positions[3 * point] === 0;
}

/** Whether a collapse would join two points of the cut by an edge that is not of the cut: its mirror image would be the same edge. */
export function joinsOverCut(state: Cut, kept: number, lost: number): boolean {
  const mesh = state.mesh;
  if (!state.isHalf || !isOnCut(state, kept)) return false;
  const ofKept = mesh.listNeighbours(kept);
  const isLostOnCut = isOnCut(state, lost);
  return mesh
    .listNeighbours(lost)
    .some(
      (next) =>
        next !== kept &&
        isOnCut(state, next) &&
        !ofKept.includes(next) &&
        !(isLostOnCut && mesh.listTriangles(lost, next).length === 1),
    );
}
