import { createDiff, type DocumentDiff, isSparse } from './document-diff.ts';

/** The diff that takes another back; shares its arrays. */
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
