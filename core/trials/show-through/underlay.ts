import type { PointGrid } from '../skin/point-grid.ts';

/** Points that may show through cloth: the body's, or those of garments that others are worn over. */
export interface Underlay {
  /** [n, 3] metres, as of now. */
  positions: Float32Array;
  /** Area around each point, m², and how thick what it belongs to is there, m, in bind pose. [n] */
  areas: Float32Array;
  thickness: Float32Array;
  grid: PointGrid;
  /** Garment of each point, index in the run; null: all are the body's. */
  garments: Int32Array | null;
  /** Writes the normal of a point, of any length. */
  writeNormal(point: number, out: Float64Array): void;
}

/** What is known of the points of an underlay, see `ShowThroughMeasure`. */
export interface Cover {
  underlay: Underlay;
  /** Garments that ever covered each point, a bit each (by their index, the 33rd with the first). [n] */
  coveredBy: Uint32Array;
  /** How far each stands above cloth that covered it before, m, and of which garment: of this frame. [n] each */
  above: Float32Array;
  aboveOf: Int32Array;
  /** Those that do, the first `count`. */
  points: Uint32Array;
  count: number;
  /** The same as a grid. */
  grid: PointGrid;
}

/** Nothing is covered yet. @param grid - For its own use. Ours. */
export function createCover(underlay: Underlay, grid: PointGrid): Cover {
  const count = underlay.areas.length;
  return {
    underlay,
    coveredBy: new Uint32Array(count),
    above: new Float32Array(count).fill(Number.POSITIVE_INFINITY),
    aboveOf: new Int32Array(count),
    points: new Uint32Array(count),
    count: 0,
    grid,
  };
}
