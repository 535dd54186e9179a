import { MinHeap } from './min-heap.ts';
import { listTrianglesOfPoints } from './triangles-of-points.ts';

/** Where a front starts: a point, how far it is from its source already, and which source that is. */
export interface FrontSeed {
  point: number;
  /** Metres. */
  distance: number;
  source: number;
}

/**
 * A front that grows over a surface from some seeds, nearest point first. Where two corners of a triangle were reached
 * from the same source, the third is measured straight across the triangles, unfolded into a plane; otherwise along an
 * edge. Exact on flat pieces that the straight way does not leave, a little long elsewhere, never short of the straight
 * distance.
 *
 * Kept between walks, so that one over a few points costs no more than those: a brush walks once a dab.
 *
 * Reference: R. Kimmel, J. Sethian, *Computing geodesic paths on manifolds*, PNAS 95, 1998. Departure: distances
 * come from the unfolded place of the source instead of a plane wave, so that flat pieces are exact.
 */
export class SurfaceFront {
  /** Metres to the nearest source; Infinity where the last walk did not come. [n] */
  readonly distances: Float64Array;
  /** Which source that is, -1 where the last walk did not come. [n] */
  readonly sources: Int32Array;
  readonly #triangles: Uint32Array;
  readonly #start: Uint32Array;
  readonly #list: Uint32Array;
  readonly #isFinal: Uint8Array;
  readonly #heap = new MinHeap();
  #touched: number[] = [];

  /** @param triangles - [t, 3]. */
  constructor(triangles: Uint32Array, pointCount: number) {
    const { start, list } = listTrianglesOfPoints(triangles, pointCount);
    this.#triangles = triangles;
    this.#start = start;
    this.#list = list;
    this.distances = new Float64Array(pointCount).fill(Number.POSITIVE_INFINITY);
    this.sources = new Int32Array(pointCount).fill(-1);
    this.#isFinal = new Uint8Array(pointCount);
  }

  /**
   * Walks from the seeds as far as a limit.
   *
   * @param positions - [n, stride], xyz first, metres.
   * @returns The points reached, nearest first. O(k log k) for k of them.
   */
  walk(
    positions: Float32Array,
    stride: number,
    seeds: Iterable<FrontSeed>,
    limit = Number.POSITIVE_INFINITY,
  ): number[] {
    this.#clear();
    const { distances, sources } = this;
    const [triangles, start, list, isFinal] = [this.#triangles, this.#start, this.#list, this.#isFinal];
    for (const { point, distance, source } of seeds) this.#offer(point, distance, source, limit);
    const length = (a: number, b: number): number => {
      const dx = positions[stride * a]! - positions[stride * b]!;
      const dy = positions[stride * a + 1]! - positions[stride * b + 1]!;
      const dz = positions[stride * a + 2]! - positions[stride * b + 2]!;
      return Math.sqrt(dx * dx + dy * dy + dz * dz);
    };
    const reached: number[] = [];
    for (let a = this.#heap.pop(); a >= 0; a = this.#heap.pop()) {
      if (isFinal[a]) continue;
      isFinal[a] = 1;
      reached.push(a);
      for (let k = start[a]!; k < start[a + 1]!; k++) {
        const t = 3 * list[k]!;
        for (let corner = 0; corner < 3; corner++) {
          const c = triangles[t + corner]!;
          if (c === a || isFinal[c]) continue;
          this.#offer(c, distances[a]! + length(a, c), sources[a]!, limit);
          const b = triangles[t]! + triangles[t + 1]! + triangles[t + 2]! - a - c;
          if (!isFinal[b] || sources[b] !== sources[a]) continue;
          this.#offer(
            c,
            measureAcross(length(a, b), length(a, c), length(b, c), distances[a]!, distances[b]!),
            sources[a]!,
            limit,
          );
        }
      }
    }
    return reached;
  }

  #offer(point: number, distance: number, source: number, limit: number): void {
    if (this.#isFinal[point] || !(distance < this.distances[point]!) || distance > limit) return;
    if (this.sources[point] === -1) this.#touched.push(point);
    this.distances[point] = distance;
    this.sources[point] = source;
    this.#heap.push(distance, point);
  }

  #clear(): void {
    for (const point of this.#touched) {
      this.distances[point] = Number.POSITIVE_INFINITY;
      this.sources[point] = -1;
      this.#isFinal[point] = 0;
    }
    this.#touched = [];
    this.#heap.clear();
  }
}

/**
 * ```
 *        c        s is the source, unfolded into the plane of the triangle at distances da, db from a and b;
 *       ╱ ╲       the way from it to c counts when it crosses the edge.
 *      a─┼─b
 *        s
 * ```
 */
function measureAcross(ab: number, ac: number, bc: number, da: number, db: number): number {
  if (!(ab > 0)) return Number.POSITIVE_INFINITY;
  const sx = (da * da - db * db + ab * ab) / (2 * ab);
  const sySquared = da * da - sx * sx;
  if (!(sySquared >= 0)) return Number.POSITIVE_INFINITY;
  const cx = (ac * ac - bc * bc + ab * ab) / (2 * ab);
  const cy = Math.sqrt(Math.max(0, ac * ac - cx * cx));
  const sy = Math.sqrt(sySquared);
  const height = cy + sy;
  const crossing = height > 0 ? sx + ((cx - sx) * sy) / height : sx;
  if (crossing < 0 || crossing > ab) return Number.POSITIVE_INFINITY;
  return Math.sqrt((cx - sx) ** 2 + height * height);
}
