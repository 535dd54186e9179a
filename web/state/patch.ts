import type { AuthoredDocument } from '../../core/document/index.ts';
import type { DocumentPatch } from '../workers/preview-protocol.ts';
import type { DocumentDiff } from './document-diff.ts';

/** What a worker needs to follow a diff. */
export function toPatch(diff: DocumentDiff): DocumentPatch {
  return {
    records: [...diff.records].map(([id, [, after]]) => [id, after]),
    arrays: [...diff.arrays].map(([id, change]) => [
      id,
      'indices' in change ? { indices: change.indices, after: change.after } : change.after,
    ]),
  };
}

/** What a worker needs to begin with a document. */
export function toWholePatch(document: AuthoredDocument): DocumentPatch {
  return { records: [...document.records], arrays: [...document.arrays] };
}
