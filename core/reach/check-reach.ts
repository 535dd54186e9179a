import { MinHeap, type Neighbours } from '../mesh/index.ts';
import type { PointSet } from './pick-points.ts';

/** What may be wrong with a map of max distances. */
export interface ReachWarning {
  kind: 'nothing-held' | 'all-held' | 'unheld-piece' | 'stray' | 'out-of-reach';
  /** The points it is about; of pieces all points. Empty for the whole. */
  points: number[];
  /** How many of what `kind` says there are: pieces, or points. */
  count: number;
}

export interface CheckedReach {
  /** Metres, [n]. */
  values: Float32Array;
  neighbours: Neighbours;
  /** At rest, [n, 3] metres. */
  positions: Float32Array;
  /** Points that ride on others need no hold. [n] */
  isLining?: PointSet | null;
}

/** Checks a map of max distances, worst first. O(n log n). */
export function checkReach(reach: CheckedReach): ReachWarning[] {
  const { values, isLining } = reach;
  let held = 0;
  let counted = 0;
  values.forEach((value, i) => {
    if (isLining?.[i]) return;
    counted++;
    if (value === 0) held++;
  });
  if (counted === 0) return [];
  if (held === 0) return [{ kind: 'nothing-held', points: [], count: 1 }];
  if (held === counted) return [{ kind: 'all-held', points: [], count: 1 }];
  return [findUnheldPieces(reach), findOutOfReach(reach), findStrays(reach)].filter(
    (warning) => warning.count > 0,
  );
}

function findUnheldPieces({ values, neighbours, isLining }: CheckedReach): ReachWarning {
  const seen = new Uint8Array(values.length);
  const points: number[] = [];
  let count = 0;
  for (let first = 0; first < values.length; first++) {
    if (seen[first]) continue;
    seen[first] = 1;
    const piece = [first];
    let needsHold = true;
    for (const i of piece) {
      if (values[i] === 0 || isLining?.[i]) needsHold = false;
      for (let k = neighbours.start[i]!; k < neighbours.start[i + 1]!; k++) {
        const j = neighbours.list[k]!;
        if (seen[j]) continue;
        seen[j] = 1;
        piece.push(j);
      }
    }
    if (!needsHold) continue;
    count++;
    for (const point of piece) points.push(point);
  }
  return { kind: 'unheld-piece', points, count };
}

/** A stray lies outside its neighbours' values by more than this, m, and by more than twice their spread. */
const STRAY_MARGIN = 0.02;

/** Single values that fit none around them. */
function findStrays({ values, neighbours: { start, list } }: CheckedReach): ReachWarning {
  const points: number[] = [];
  values.forEach((value, i) => {
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    for (let k = start[i]!; k < start[i + 1]!; k++) {
      low = Math.min(low, values[list[k]!]!);
      high = Math.max(high, values[list[k]!]!);
    }
    const margin = STRAY_MARGIN + 2 * (high - low);
    if (value < low - margin || value > high + margin) points.push(i);
  });
  return { kind: 'stray', points, count: points.length };
}

/** Cloth gives a little, and edges are a little longer than the straight way: this much more is not told. */
const GIVE = { ratio: 1.05, metres: 0.005 };

function findOutOfReach({ values, neighbours, positions }: CheckedReach): ReachWarning {
  const usable = computeUsableReach(values, neighbours, positions);
  const points: number[] = [];
  values.forEach((value, i) => {
    if (value > GIVE.ratio * usable[i]! + GIVE.metres) points.push(i);
  });
  return { kind: 'out-of-reach', points, count: points.length };
}

/**
 * How far each point can leave its skinned place at most, whatever it is allowed: its neighbours hold it. A point that
 * may go d, joined by a length of cloth l to one that may go e, gets no farther than e + 2 l, when the cloth between
 * them is turned right over; the least over all points counts. Stretch is not counted.
 *
 * @param values - Max distances, m, [n]. @param positions - At rest, [n, 3]. O(n log n).
 * @returns m, [n], none above what is allowed.
 */
export function computeUsableReach(
  values: Float32Array,
  { start, list }: Neighbours,
  positions: Float32Array,
): Float32Array {
  const usable = Float64Array.from(values);
  const isFinal = new Uint8Array(values.length);
  const heap = new MinHeap();
  usable.forEach((value, i) => {
    heap.push(value, i);
  });
  for (let i = heap.pop(); i >= 0; i = heap.pop()) {
    if (isFinal[i]) continue;
    isFinal[i] = 1;
    for (let k = start[i]!; k < start[i + 1]!; k++) {
      const j = list[k]!;
      if (isFinal[j]) continue;
      const dx = positions[3 * i]! - positions[3 * j]!;
      const dy = positions[3 * i + 1]! - positions[3 * j + 1]!;
      const dz = positions[3 * i + 2]! - positions[3 * j + 2]!;
      const most = usable[i]! + 2 * Math.sqrt(dx * dx + dy * dy + dz * dz);
      if (most >= usable[j]!) continue;
      usable[j] = most;
      heap.push(most, j);
    }
  }
  return Float32Array.from(usable);
}
