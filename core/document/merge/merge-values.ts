import type { SparseChange } from '../../reach/index.ts';
import { isSparse, type WholeChange } from '../diff/document-diff.ts';

export interface MergedValues {
  /** With every change of both; where they differ, mine. */
  values: Float32Array | null;
  /** Vertices that both changed, to different values; all of them when the lengths differ. */
  conflicts: number;
}

/**
 * Two changes of the numbers beside one record, made from the same state: each vertex that only one of them changed is
 * taken from it.
 *
 * @param mine - From the common state to what this side has. @param now - What it has. @param theirs - What the other side has.
 */
export function mergeValues(
  mine: SparseChange | WholeChange,
  now: Float32Array | null,
  theirs: Float32Array | null,
): MergedValues {
  const base = restore(mine, now);
  if (!now || !theirs || !base || now.length !== theirs.length || base.length !== now.length) {
    const isSame = now === theirs || (now !== null && theirs !== null && hasSameValues(now, theirs));
    if (isSame || (base && theirs && hasSameValues(base, theirs))) return { values: now, conflicts: 0 };
    return { values: now, conflicts: Math.max(now?.length ?? 0, theirs?.length ?? 0, 1) };
  }
  const values = theirs.slice();
  let conflicts = 0;
  for (let i = 0; i < now.length; i++) {
    if (now[i] === base[i]) continue;
    if (theirs[i] !== base[i] && theirs[i] !== now[i]) conflicts++;
    values[i] = now[i]!;
  }
  return { values, conflicts };
}

/** The numbers before a change. */
function restore(change: SparseChange | WholeChange, now: Float32Array | null): Float32Array | null {
  if (!isSparse(change)) return change.before;
  if (!now) return null;
  const base = now.slice();
  change.indices.forEach((index, k) => {
    base[index] = change.before[k]!;
  });
  return base;
}

function hasSameValues(p: Float32Array, q: Float32Array): boolean {
  return p.length === q.length && p.every((value, i) => value === q[i]);
}
