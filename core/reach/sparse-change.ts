/** Values of some elements before and after: what undo needs, and what is sent on. */
export interface SparseChange {
  /** Rising. */
  indices: Uint32Array;
  before: Float32Array;
  after: Float32Array;
}

export const NO_CHANGE: SparseChange = {
  indices: new Uint32Array(0),
  before: new Float32Array(0),
  after: new Float32Array(0),
};

/**
 * The change from some values to new ones of some elements; what stays the same is left out.
 * @param indices - Rising. @param after - As many.
 */
export function createSparseChange(
  values: Float32Array,
  indices: ArrayLike<number>,
  after: ArrayLike<number>,
): SparseChange {
  const changed: number[] = [];
  for (let k = 0; k < indices.length; k++)
    if (Math.fround(after[k]!) !== values[indices[k]!]) changed.push(k);
  return {
    indices: Uint32Array.from(changed, (k) => indices[k]!),
    before: Float32Array.from(changed, (k) => values[indices[k]!]!),
    after: Float32Array.from(changed, (k) => after[k]!),
  };
}

/** The change to a whole new array of values. @param isMasked - Only where it is non-zero; null: everywhere. [n] */
export function compareValues(
  values: Float32Array,
  next: ArrayLike<number>,
  isMasked: Uint8Array | null = null,
): SparseChange {
  const indices: number[] = [];
  for (let i = 0; i < values.length; i++)
    if ((!isMasked || isMasked[i]) && Math.fround(next[i]!) !== values[i]) indices.push(i);
  return createSparseChange(
    values,
    indices,
    indices.map((i) => next[i]!),
  );
}

/** Two changes one after the other, as one: first `before`, last `after`. O(of both). */
export function mergeChanges(first: SparseChange, second: SparseChange): SparseChange {
  const most = first.indices.length + second.indices.length;
  const indices = new Uint32Array(most);
  const before = new Float32Array(most);
  const after = new Float32Array(most);
  let count = 0;
  for (let i = 0, j = 0; i < first.indices.length || j < second.indices.length; count++) {
    const p = first.indices[i] ?? Number.POSITIVE_INFINITY;
    const q = second.indices[j] ?? Number.POSITIVE_INFINITY;
    indices[count] = Math.min(p, q);
    before[count] = p <= q ? first.before[i]! : second.before[j]!;
    after[count] = q <= p ? second.after[j]! : first.after[i]!;
    if (p <= q) i++;
    if (q <= p) j++;
  }
  return {
    indices: indices.slice(0, count),
    before: before.slice(0, count),
    after: after.slice(0, count),
  };
}
