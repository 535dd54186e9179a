import type { AuthoredDocument } from '../document.ts';
import { type DocumentDiff, isSparse } from './document-diff.ts';
import { applyPatch, toPatch } from './document-patch.ts';

/** Applies a diff in place; whole arrays are copied, since the diff stays for undo. */
export function applyDiff(document: AuthoredDocument, diff: DocumentDiff): void {
  applyPatch(document, toPatch(diff));
  for (const [id, change] of diff.arrays)
    if (!isSparse(change) && change.after) document.arrays.set(id, change.after.slice());
}
