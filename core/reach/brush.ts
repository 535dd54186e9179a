import type { Neighbours } from '../mesh/index.ts';
import { computeFalloff, type Falloff } from './falloff.ts';

export interface Dab {
  /** Middle of the brush, metres, in the space of `positions`. */
  center: readonly [number, number, number];
  /** Metres. */
  radius: number;
  /** 0 to 1: how much of the way to the wanted value one dab goes at its middle. */
  strength: number;
  falloff: Falloff;
  mode: 'set' | 'smooth';
  /** Metres; the value that `set` moves to. */
  value: number;
  /** From the eye into the picture, unit length. With `normalAtHit` it limits the dab to the side that is seen. */
  view?: readonly [number, number, number];
  /** Normal of the surface under the cursor. */
  normalAtHit?: readonly [number, number, number];
}

export interface BrushSurface {
  /** Points where they are drawn now, [n, stride]. */
  positions: Float32Array;
  stride: number;
  /** [n, 3] unit length. */
  normals: Float32Array;
  neighbours: Neighbours;
}

/** Values of some elements before and after: what undo needs, and what is sent on. */
export interface SparseChange {
  indices: Uint32Array;
  before: Float32Array;
  after: Float32Array;
}

/**
 * The change that one dab makes to a channel; `values` itself is not touched.
 *
 * `smooth` moves a value to the mean of its neighbours, all read before any is written. O(n).
 */
export function computeDab(values: Float32Array, surface: BrushSurface, dab: Dab): SparseChange {
  const { positions, stride, normals } = surface;
  const [cx, cy, cz] = dab.center;
  const indices: number[] = [];
  const after: number[] = [];
  const radiusSquared = dab.radius * dab.radius;
  const seenSide = dab.view && dab.normalAtHit ? Math.sign(dot(dab.view, dab.normalAtHit, 0)) : 0;
  for (let i = 0; i < values.length; i++) {
    const dx = positions[stride * i]! - cx;
    const dy = positions[stride * i + 1]! - cy;
    const dz = positions[stride * i + 2]! - cz;
    const distanceSquared = dx * dx + dy * dy + dz * dz;
    if (distanceSquared >= radiusSquared) continue;
    if (seenSide !== 0 && Math.sign(dot(dab.view!, normals, 3 * i)) !== seenSide) continue;
    const weight = dab.strength * computeFalloff(dab.falloff, Math.sqrt(distanceSquared) / dab.radius);
    if (weight <= 0) continue;
    const wanted = dab.mode === 'set' ? dab.value : computeNeighbourMean(values, surface.neighbours, i);
    const value = Math.fround(values[i]! + weight * (wanted - values[i]!));
    if (value === values[i]) continue;
    indices.push(i);
    after.push(value);
  }
  return toSparseChange(values, indices, after);
}

/** Every value set to one. */
export function computeFlood(values: Float32Array, value: number): SparseChange {
  const indices: number[] = [];
  const wanted = Math.fround(value);
  for (let i = 0; i < values.length; i++) if (values[i] !== wanted) indices.push(i);
  return toSparseChange(
    values,
    indices,
    indices.map(() => wanted),
  );
}

/**
 * Every value moved to the mean of its neighbours by `strength`, `passes` times. Held values stay held when
 * `keepHeld`, so that the seam is not freed.
 */
export function computeSmoothAll(
  values: Float32Array,
  neighbours: Neighbours,
  strength: number,
  passes: number,
  keepHeld = true,
): SparseChange {
  let current = values.slice();
  for (let pass = 0; pass < passes; pass++) {
    const next = current.slice();
    for (let i = 0; i < values.length; i++) {
      if (keepHeld && values[i] === 0) continue;
      next[i] = current[i]! + strength * (computeNeighbourMean(current, neighbours, i) - current[i]!);
    }
    current = next;
  }
  const indices: number[] = [];
  for (let i = 0; i < values.length; i++) if (current[i] !== values[i]) indices.push(i);
  return toSparseChange(
    values,
    indices,
    indices.map((i) => current[i]!),
  );
}

/** Two changes one after the other, as one: first `before`, last `after`. */
export function mergeChanges(first: SparseChange, second: SparseChange): SparseChange {
  const rowOf = new Map<number, [before: number, after: number]>();
  first.indices.forEach((index, k) => {
    rowOf.set(index, [first.before[k]!, first.after[k]!]);
  });
  second.indices.forEach((index, k) => {
    const row = rowOf.get(index);
    if (row) row[1] = second.after[k]!;
    else rowOf.set(index, [second.before[k]!, second.after[k]!]);
  });
  const rows = [...rowOf.entries()].sort((p, q) => p[0] - q[0]);
  return {
    indices: Uint32Array.from(rows, (row) => row[0]),
    before: Float32Array.from(rows, (row) => row[1][0]),
    after: Float32Array.from(rows, (row) => row[1][1]),
  };
}

function toSparseChange(values: Float32Array, indices: number[], after: number[]): SparseChange {
  return {
    indices: Uint32Array.from(indices),
    before: Float32Array.from(indices, (i) => values[i]!),
    after: Float32Array.from(after),
  };
}

function computeNeighbourMean(values: Float32Array, neighbours: Neighbours, i: number): number {
  const from = neighbours.start[i]!;
  const to = neighbours.start[i + 1]!;
  if (from === to) return values[i]!;
  let sum = 0;
  for (let k = from; k < to; k++) sum += values[neighbours.list[k]!]!;
  return sum / (to - from);
}

function dot(a: readonly number[], b: ArrayLike<number>, o: number): number {
  return a[0]! * b[o]! + a[1]! * b[o + 1]! + a[2]! * b[o + 2]!;
}
