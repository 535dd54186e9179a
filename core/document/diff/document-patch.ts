import type { SparseChange } from '../../reach/index.ts';
import { type AuthoredDocument, createDocument } from '../document.ts';
import type { AuthoredRecord, RecordId } from '../records/index.ts';
import { type DocumentDiff, isSparse } from './document-diff.ts';

/** The forward half of a diff: what is new, as it crosses to a worker. Null takes away. */
export interface DocumentPatch {
  records: [RecordId, AuthoredRecord | null][];
  arrays: [RecordId, Pick<SparseChange, 'indices' | 'after'> | Float32Array | null][];
}

/** What somebody who holds the document needs to follow a diff; shares its arrays. */
export function toPatch(diff: DocumentDiff): DocumentPatch {
  return {
    records: [...diff.records].map(([id, [, after]]) => [id, after]),
    arrays: [...diff.arrays].map(([id, change]) => [
      id,
      isSparse(change) ? { indices: change.indices, after: change.after } : change.after,
    ]),
  };
}

/** What somebody who holds nothing needs to begin with a document; shares its arrays. */
export function toWholePatch(document: AuthoredDocument): DocumentPatch {
  return { records: [...document.records], arrays: [...document.arrays] };
}

/**
 * Applies a patch in place: records are replaced, sparse changes written into the array that is there. A whole array is
 * taken as it is, not copied: it came with a message, or its owner copies it (`applyDiff`).
 */
export function applyPatch(document: AuthoredDocument, patch: DocumentPatch): void {
  for (const [id, record] of patch.records) {
    if (record) document.records.set(id, record);
    else document.records.delete(id);
  }
  for (const [id, change] of patch.arrays) {
    if (change === null) document.arrays.delete(id);
    else if (change instanceof Float32Array) document.arrays.set(id, change);
    else {
      const values = document.arrays.get(id);
      if (values)
        for (let k = 0; k < change.indices.length; k++) values[change.indices[k]!] = change.after[k]!;
    }
  }
}

/** A document of its own that a patch has been applied to. */
export function openPatch(patch: DocumentPatch): AuthoredDocument {
  const document = createDocument();
  applyPatch(document, patch);
  return document;
}
