import type { SparseChange } from '../../reach/index.ts';
import type { AuthoredRecord, RecordId } from '../records/index.ts';

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

/** A diff that changes nothing, to be filled. */
export function createDiff(): DocumentDiff {
  return { records: new Map(), arrays: new Map() };
}

/** Whether a diff changes nothing. */
export function isEmptyDiff(diff: DocumentDiff): boolean {
  return diff.records.size === 0 && diff.arrays.size === 0;
}

/** Whether a change of an array is of some values, and not of the whole. */
export function isSparse(change: SparseChange | WholeChange): change is SparseChange {
  return 'indices' in change;
}
