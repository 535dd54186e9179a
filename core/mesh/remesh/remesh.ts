import type { Surface } from '../surface.ts';
import { collapseShort } from './collapse-short.ts';
import { computeSizes } from './compute-sizes.ts';
import { flipEdges, improvesAngles, improvesValence } from './flip-edges.ts';
import { carryLines, mendSource } from './mend-source.ts';
import { mendTurned } from './mend-turned.ts';
import { cutHalf, isMirrorSymmetric, joinHalves } from './mirror-halves.ts';
import { relaxPoints } from './relax-points.ts';
import { createRemeshing } from './remeshing.ts';
import { splitLong } from './split-long.ts';

export interface RemeshOptions {
  /** Wished length of edges, m. */
  edgeLength: number;
  /**
   * How closely open borders and kept lines are followed, 0 to 1. At 1 they stay within 2 % of the edge length, with
   * shorter edges where that takes them; at 0 they have edges as long as the rest. Default 1.
   */
  borderDetail?: number;
  /** Edges between triangles whose normals turn by more than this are kept as lines, rad. Default 40°. */
  sharpAngle?: number;
  /** More edges to keep as lines, pairs of points. */
  lines?: Uint32Array;
  /** Keep the mirror symmetry about x = 0 when the source has it. Default true. */
  keepsSymmetry?: boolean;
  /** Called between passes with the share done, 0 to 1. It may throw, to cancel. */
  onProgress?: (share: number) => void;
}

const PASSES = 8;
/** 40°: the sides of an eight-sided tube are kept, those of a twelve-sided are round. */
const SHARP_ANGLE = 0.7;

/**
 * Even triangles of a wished edge length over the same surface.
 *
 * Edges too long are split, those too short collapsed, edges flipped towards six triangles around a point, points
 * moved within the surface towards the middle of their neighbours and put back onto the source; all this eight times.
 * Open borders and kept lines are chains of their own: their points only move along them, and ends and corners stay.
 * A symmetric source is cut in two, one half remeshed, and mirrored.
 *
 * @param source - Points that share places must be shared (`weldPoints`).
 * @throws {RangeError} If the edge length is not above zero.
 * About O(n log n) of the larger of source and result.
 *
 * Reference: M. Botsch, L. Kobbelt, *A remeshing approach to multiresolution modeling*, SGP 2004. Departures: lines as
 * chains with arc length; shorter edges where a border needs them, with lengths that grow away from it; a last pass
 * that flips for the largest smallest angle.
 */
export function remesh(source: Surface, options: RemeshOptions): Surface {
  if (!(options.edgeLength > 0))
    throw new RangeError(`edge length is ${options.edgeLength}; it must be above 0 m`);
  if (source.triangles.length === 0) return source;
  const mended = mendSource(source);
  const whole = { ...options, lines: carryLines(mended, options.lines ?? new Uint32Array(0)) };
  if ((options.keepsSymmetry ?? true) && isMirrorSymmetric(mended.surface, 0.02 * options.edgeLength)) {
    const half = cutHalf(mended.surface, whole.lines);
    return joinHalves(run(half.surface, { ...whole, lines: half.lines }, true));
  }
  return run(mended.surface, whole, false);
}

/** @param isHalf - The border in the plane x = 0 is where the surface was cut. */
function run(source: Surface, options: RemeshOptions, isHalf: boolean): Surface {
  const { edgeLength, borderDetail = 1, sharpAngle = SHARP_ANGLE, lines, onProgress = () => {} } = options;
  const state = createRemeshing(source, { edgeLength, borderDetail, sharpAngle, lines, isHalf });
  for (let pass = 0; pass < PASSES; pass++) {
    onProgress(pass / PASSES);
    computeSizes(state);
    splitLong(state);
    collapseShort(state);
    flipEdges(state, improvesValence);
    relaxPoints(state);
  }
  flipEdges(state, improvesAngles);
  mendTurned(state);
  onProgress(1);
  return state.mesh.compact().surface;
}
