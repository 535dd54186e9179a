import type { CompiledGarment } from '../cloth/index.ts';
import { SpatialIndex } from '../math/index.ts';
import { measureOnTriangle } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectSimPositions } from './render-binding.ts';

/** Of each point of a mesh, where it lies on another: three points with their shares. [n, 3] each */
export interface PointOrigins {
  corners: Uint32Array;
  shares: Float32Array;
}

/**
 * Where the points of a garment lie on another mesh of the same garment, in bind pose: on the closest triangle. O(n log n).
 * @returns Null when both are one mesh.
 */
export function mapPoints(
  character: Character,
  from: CompiledGarment,
  to: CompiledGarment,
): PointOrigins | null {
  if (from === to) return null;
  const source = collectSimPositions(character, from);
  const places = collectSimPositions(character, to);
  const index = new SpatialIndex(source.slice(), from.triangles);
  const corners = new Uint32Array(3 * to.pointCount);
  const shares = new Float32Array(3 * to.pointCount);
  for (let p = 0; p < to.pointCount; p++) {
    const closest = index.findClosest(places[3 * p]!, places[3 * p + 1]!, places[3 * p + 2]!)!;
    const own = from.triangles.subarray(3 * closest.triangle, 3 * closest.triangle + 3);
    corners.set(own, 3 * p);
    shares.set(limitShares(measureOnTriangle(source, 3, Array.from(own), closest.point).weights), 3 * p);
  }
  return { corners, shares };
}

/** Rows of the other mesh at each point. @param rows - [m, 4]. @param out - [n, 4]. @param map - Null: the same points. */
export function writeMapped(map: PointOrigins | null, rows: Float32Array, out: Float32Array): void {
  if (!map) {
    out.set(rows.subarray(0, out.length));
    return;
  }
  const { corners, shares } = map;
  for (let p = 0; 3 * p < corners.length; p++) {
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let c = 3 * p; c < 3 * p + 3; c++) sum += shares[c]! * rows[4 * corners[c]! + k]!;
      out[4 * p + k] = sum;
    }
  }
}

/** None below 0, and 1 in all: on a sliver the last digits may say anything. */
function limitShares(weights: readonly number[]): number[] {
  const kept = weights.map((weight) => (weight > 0 ? weight : 0));
  const sum = kept.reduce((total, weight) => total + weight, 0);
  return sum > 0 ? kept.map((weight) => weight / sum) : [1, 0, 0];
}
