import { checkLength } from '../math/index.ts';

export interface SurfaceDistance {
  /** Metres along the surface to the nearest source; Infinity where none can be reached. [n] */
  distances: Float32Array;
  /** Which source that is, -1 where none can be reached. [n] */
  sources: Int32Array;
}

/**
 * Distance along a surface from every point to the nearest of several source points, and which one it is.
 *
 * A front grows from the sources, nearest point first. Where two corners of a triangle were reached from the same
 * source, the third is measured straight across the triangles, unfolded into a plane; otherwise along an edge.
 * Exact on flat pieces that the straight way does not leave, a little long elsewhere, never short of the straight
 * distance.
 *
 * @param positions - [n, stride], xyz first, metres. @param triangles - [t, 3].
 * @param isSource - [n], non-zero for sources.
 * O(n log n).
 *
 * Reference: R. Kimmel, J. Sethian, *Computing geodesic paths on manifolds*, PNAS 95, 1998. Departure: distances
 * come from the unfolded place of the source instead of a plane wave, so that flat pieces are exact.
 */
export function computeSurfaceDistance(
  positions: Float32Array,
  triangles: Uint32Array,
  isSource: Uint8Array,
  stride = 3,
): SurfaceDistance {
  const pointCount = isSource.length;
  if (positions.length < stride * pointCount) checkLength('positions', positions, stride * pointCount);
  const { start, list } = listTrianglesOfPoints(triangles, pointCount);
  const distances = new Float64Array(pointCount).fill(Number.POSITIVE_INFINITY);
  const sources = new Int32Array(pointCount).fill(-1);
  const isFinal = new Uint8Array(pointCount);
  const heap = new MinHeap();
  const offer = (point: number, distance: number, source: number): void => {
    if (isFinal[point] || !(distance < distances[point]!)) return;
    distances[point] = distance;
    sources[point] = source;
    heap.push(distance, point);
  };
  for (let i = 0; i < pointCount; i++) if (isSource[i]) offer(i, 0, i);
  const length = (a: number, b: number): number => {
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += (positions[stride * a + k]! - positions[stride * b + k]!) ** 2;
    return Math.sqrt(sum);
  };
  for (let a = heap.pop(); a >= 0; a = heap.pop()) {
    if (isFinal[a]) continue;
    isFinal[a] = 1;
    for (let k = start[a]!; k < start[a + 1]!; k++) {
      const t = 3 * list[k]!;
      for (let corner = 0; corner < 3; corner++) {
        const c = triangles[t + corner]!;
        if (c === a || isFinal[c]) continue;
        offer(c, distances[a]! + length(a, c), sources[a]!);
        const b = triangles[t]! + triangles[t + 1]! + triangles[t + 2]! - a - c;
        if (!isFinal[b] || sources[b] !== sources[a]) continue;
        offer(
          c,
          measureAcross(length(a, b), length(a, c), length(b, c), distances[a]!, distances[b]!),
          sources[a]!,
        );
      }
    }
  }
  return { distances: Float32Array.from(distances), sources };
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

/** The triangles around each point: those of point i stand at `list[start[i]] … list[start[i + 1] - 1]`. */
export function listTrianglesOfPoints(
  triangles: Uint32Array,
  pointCount: number,
): { start: Uint32Array; list: Uint32Array } {
  const start = new Uint32Array(pointCount + 1);
  for (let i = 0; i < triangles.length; i++) start[triangles[i]! + 1]!++;
  for (let i = 0; i < pointCount; i++) start[i + 1] = start[i + 1]! + start[i]!;
  const fill = start.slice();
  const list = new Uint32Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) list[fill[triangles[i]!]!++] = Math.floor(i / 3);
  return { start, list };
}

/** Smallest key first, equal keys by value, so that the order depends on the mesh alone. */
class MinHeap {
  readonly #keys: number[] = [];
  readonly #values: number[] = [];

  push(key: number, value: number): void {
    const keys = this.#keys;
    const values = this.#values;
    let i = keys.length;
    keys.push(key);
    values.push(value);
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (!isBefore(key, value, keys[parent]!, values[parent]!)) break;
      keys[i] = keys[parent]!;
      values[i] = values[parent]!;
      i = parent;
    }
    keys[i] = key;
    values[i] = value;
  }

  /** @returns The value, or -1 when empty. */
  pop(): number {
    const keys = this.#keys;
    const values = this.#values;
    if (keys.length === 0) return -1;
    const first = values[0]!;
    const key = keys.pop()!;
    const value = values.pop()!;
    const size = keys.length;
    if (size === 0) return first;
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= size) break;
      if (child + 1 < size && isBefore(keys[child + 1]!, values[child + 1]!, keys[child]!, values[child]!)) {
        child++;
      }
      if (!isBefore(keys[child]!, values[child]!, key, value)) break;
      keys[i] = keys[child]!;
      values[i] = values[child]!;
      i = child;
    }
    keys[i] = key;
    values[i] = value;
    return first;
  }
}

function isBefore(key: number, value: number, otherKey: number, otherValue: number): boolean {
  return key < otherKey || (key === otherKey && value < otherValue);
}
