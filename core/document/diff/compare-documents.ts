import { dequal } from 'dequal/lite';
import { compareValues } from '../../reach/index.ts';
import type { AuthoredDocument } from '../document.ts';
import { createDiff, type DocumentDiff } from './document-diff.ts';

/** The diff that makes one document the same as another; of arrays only the values that differ, where there are as many. */
export function compareDocuments(from: AuthoredDocument, to: AuthoredDocument): DocumentDiff {
  const diff = createDiff();
  for (const id of new Set([...from.records.keys(), ...to.records.keys()])) {
    const [before, after] = [from.records.get(id) ?? null, to.records.get(id) ?? null];
    if (!dequal(before, after)) diff.records.set(id, [before, after]);
  }
  for (const id of new Set([...from.arrays.keys(), ...to.arrays.keys()])) {
    const [before, after] = [from.arrays.get(id) ?? null, to.arrays.get(id) ?? null];
    if (before && after && before.length === after.length) {
      const change = compareValues(before, after);
      if (change.indices.length > 0) diff.arrays.set(id, change);
    } else diff.arrays.set(id, { before: before?.slice() ?? null, after: after?.slice() ?? null });
  }
  return diff;
}
