import { percentile } from '../math/index.ts';
import { measureDistance } from './measure-distance.ts';
import type { Surface } from './surface.ts';

/** Points nearer to each other than this share of the edges beside them are one: a seam that was rounded apart. */
const SAME_PLACE = 1e-4;
/** The usual length is the median of at most so many. */
const MOST_SAMPLED = 20_001;
/** Cells are so many times as wide as points may be apart, so that hardly any point looks into two. */
const CELL = 64;

/**
 * Finds points that are the same but for rounding. Ours.
 *
 * @returns for each point the lowest of those that are the same as it, itself without any; and how many are another's. [n] O(n) expected.
 */
export function weldNear({ positions: p, triangles }: Surface): { first: Uint32Array; count: number } {
  const pointCount = p.length / 3;
  const first = Uint32Array.from({ length: pointCount }, (_, point) => point);
  const { spacings, usual } = measureSpacings(p, triangles, pointCount);
  const farthest = SAME_PLACE * usual;
  if (!(farthest > 0)) return { first, count: 0 };
  const reaches = Float32Array.from(spacings, (spacing) => Math.min(farthest, SAME_PLACE * spacing));
  const cells = new Cells(p, reaches, CELL * farthest);
  let count = 0;
  for (let q = 0; q < pointCount; q++) {
    const same = cells.find(q);
    if (same < 0) cells.add(q);
    else {
      first[q] = same;
      count++;
    }
  }
  return { first, count };
}

/** Points by the cell that they lie in; cells of one hash share a list. */
class Cells {
  readonly #positions: Float32Array;
  readonly #reaches: Float32Array;
  readonly #size: number;
  readonly #mask: number;
  readonly #heads: Int32Array;
  readonly #next: Int32Array;

  constructor(positions: Float32Array, reaches: Float32Array, size: number) {
    let capacity = 16;
    while (capacity < 2 * reaches.length) capacity *= 2;
    this.#positions = positions;
    this.#reaches = reaches;
    this.#size = size;
    this.#mask = capacity - 1;
    this.#heads = new Int32Array(capacity).fill(-1);
    this.#next = new Int32Array(reaches.length).fill(-1);
  }

  add(point: number): void {
    const [p, size] = [this.#positions, this.#size];
    const x = Math.floor(p[3 * point]! / size);
    const y = Math.floor(p[3 * point + 1]! / size);
    const z = Math.floor(p[3 * point + 2]! / size);
    const slot = hashCell(x, y, z) & this.#mask;
    this.#next[point] = this.#heads[slot]!;
    this.#heads[slot] = point;
  }

  /** @returns The lowest point of all that were added within reach of it and it of them; -1 without any. */
  find(point: number): number {
    const [p, size, reach] = [this.#positions, this.#size, this.#reaches[point]!];
    const [x, y, z] = [p[3 * point]!, p[3 * point + 1]!, p[3 * point + 2]!];
    const x1 = Math.floor((x + reach) / size);
    const y1 = Math.floor((y + reach) / size);
    const z1 = Math.floor((z + reach) / size);
    let lowest = -1;
    for (let i = Math.floor((x - reach) / size); i <= x1; i++) {
      for (let j = Math.floor((y - reach) / size); j <= y1; j++) {
        for (let k = Math.floor((z - reach) / size); k <= z1; k++) {
          let other = this.#heads[hashCell(i, j, k) & this.#mask]!;
          for (; other >= 0; other = this.#next[other]!) {
            if (lowest >= 0 && other > lowest) continue;
            const most = Math.min(reach, this.#reaches[other]!);
            if (measureDistance(p, point, other) <= most) lowest = other;
          }
        }
      }
    }
    return lowest;
  }
}

function hashCell(x: number, y: number, z: number): number {
  let hash = Math.imul(x | 0, 0x9e3779b1) ^ Math.imul(y | 0, 0x85ebca6b) ^ Math.imul(z | 0, 0xc2b2ae35);
  hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
  return hash ^ (hash >>> 13);
}

/** Mean length of the sides of the triangles at each point, and about the median of all sides, m. */
function measureSpacings(
  p: Float32Array,
  triangles: Uint32Array,
  pointCount: number,
): { spacings: Float64Array; usual: number } {
  const lengths = new Float32Array(triangles.length);
  const [sums, counts] = [new Float64Array(pointCount), new Uint32Array(pointCount)];
  for (let i = 0; i < triangles.length; i++) {
    const [a, b] = [triangles[i]!, triangles[i - (i % 3) + ((i + 1) % 3)]!];
    const length = measureDistance(p, a, b);
    lengths[i] = length;
    sums[a] = sums[a]! + length;
    sums[b] = sums[b]! + length;
    counts[a]!++;
    counts[b]!++;
  }
  const stride = Math.ceil(lengths.length / MOST_SAMPLED) || 1;
  return {
    spacings: sums.map((sum, i) => (counts[i]! > 0 ? sum / counts[i]! : 0)),
    usual: percentile(
      lengths.filter((_, i) => i % stride === 0),
      0.5,
    ),
  };
}
