export { applyDiff } from './apply-diff.ts';
export { changesMotion, tellMotion } from './changes-motion.ts';
export { compareDocuments } from './compare-documents.ts';
export { createDiff, type DocumentDiff, isEmptyDiff, isSparse, type WholeChange } from './document-diff.ts';
export { applyPatch, type DocumentPatch, openPatch, toPatch, toWholePatch } from './document-patch.ts';
export { History, type HistoryEntry } from './history.ts';
export { invertDiff } from './invert-diff.ts';
export { mergeDiffs } from './merge-diffs.ts';
