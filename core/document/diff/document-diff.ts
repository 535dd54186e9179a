import type { AuthoredDocument, AuthoredRecord, RecordId } from '../../core/document/index.ts';
import { mergeChanges, type SparseChange } from '../../core/reach/index.ts';

/** A whole array that came, went, or was replaced. */
export interface WholeChange {
  before: Float32Array | null;
  after: Float32Array | null;
}

/** A change of the authored document that can be applied, inverted and merged. */
export interface DocumentDiff {
  records: Map<RecordId, [before: AuthoredRecord | null, after: AuthoredRecord | null]>;
  arrays: Map<RecordId, SparseChange | WholeChange>;
}

export function createDiff(): DocumentDiff {
  return { records: new Map(), arrays: new Map() };
}

export function isEmptyDiff(diff: DocumentDiff): boolean {
  return diff.records.size === 0 && diff.arrays.size === 0;
}

function isSparse(change: SparseChange | WholeChange): change is SparseChange {
  return 'indices' in change;
}

/** Applies a diff in place. Records are replaced, arrays written into. */
export function applyDiff(document: AuthoredDocument, diff: DocumentDiff): void {
  for (const [id, [, after]] of diff.records) {
    if (after) document.records.set(id, after);
    else document.records.delete(id);
  }
  for (const [id, change] of diff.arrays) {
    if (isSparse(change)) {
      const values = document.arrays.get(id);
      if (values)
        for (let k = 0; k < change.indices.length; k++) values[change.indices[k]!] = change.after[k]!;
    } else if (change.after) {
      document.arrays.set(id, change.after.slice());
    } else {
      document.arrays.delete(id);
    }
  }
}

export function invertDiff(diff: DocumentDiff): DocumentDiff {
  const inverse = createDiff();
  for (const [id, [before, after]] of diff.records) inverse.records.set(id, [after, before]);
  for (const [id, change] of diff.arrays) {
    inverse.arrays.set(
      id,
      isSparse(change)
        ? { indices: change.indices, before: change.after, after: change.before }
        : { before: change.after, after: change.before },
    );
  }
  return inverse;
}

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
