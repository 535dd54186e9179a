import type { AuthoredRecord } from '../records/index.ts';
import type { DocumentDiff } from './document-diff.ts';

/** Fields that nothing that moves goes by: what is asked of it, and what it is called. */
const STILL_FIELDS: ReadonlySet<string> = new Set([
  'name',
  'trialLimits',
  'budgetMilliseconds',
  'clipName',
  'healthLimits',
  'sidePairs',
  // The garment as it is moves as it did.
  'levels',
  'levelSwitchSeconds',
]);

/** Fields that documents of before lack: as long as they say nothing, things move as they did, and what was measured holds. */
const LATER_FIELDS: ReadonlySet<string> = new Set(['clearOf']);

/** Whether a change can make anything move otherwise, so that what was measured is of before. */
export function changesMotion({ records, arrays }: DocumentDiff): boolean {
  if (arrays.size > 0) return true;
  return [...records.values()].some(
    ([before, after]) => !before || !after || tellMotion(before) !== tellMotion(after),
  );
}

/** All of a record that things move by, as one text: the same for records that move alike. */
export function tellMotion(record: AuthoredRecord): string {
  const fields = Object.entries(record).filter(
    ([field, value]) =>
      !STILL_FIELDS.has(field) &&
      value !== undefined &&
      !(LATER_FIELDS.has(field) && Array.isArray(value) && value.length === 0),
  );
  return JSON.stringify(fields.sort(([p], [q]) => (p < q ? -1 : 1)));
}
