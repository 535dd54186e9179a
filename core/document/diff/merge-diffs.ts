import { mergeChanges, type SparseChange } from '../../reach/index.ts';
import { type DocumentDiff, isSparse, type WholeChange } from './document-diff.ts';

/** Two diffs, one after the other, as one. */
export function mergeDiffs(first: DocumentDiff, second: DocumentDiff): DocumentDiff {
  const merged: DocumentDiff = { records: new Map(first.records), arrays: new Map(first.arrays) };
  for (const [id, [before, after]] of second.records) {
    merged.records.set(id, [first.records.has(id) ? first.records.get(id)![0] : before, after]);
  }
  for (const [id, change] of second.arrays) {
    const earlier = first.arrays.get(id);
    merged.arrays.set(id, earlier ? mergeArrays(earlier, change) : change);
  }
  return merged;
}

function mergeArrays(
  first: SparseChange | WholeChange,
  second: SparseChange | WholeChange,
): SparseChange | WholeChange {
  if (isSparse(first) && isSparse(second)) return mergeChanges(first, second);
  if (!isSparse(first)) {
    if (!isSparse(second)) return { before: first.before, after: second.after };
    const after = first.after!.slice();
    second.indices.forEach((index, k) => {
      after[index] = second.after[k]!;
    });
    return { before: first.before, after };
  }
  const whole = second as WholeChange;
  const before = whole.before!.slice();
  first.indices.forEach((index, k) => {
    before[index] = first.before[k]!;
  });
  return { before, after: whole.after };
}
