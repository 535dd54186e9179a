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
]);

/** Whether a change can make anything move otherwise, so that what was measured is of before. */
export function changesMotion({ records, arrays }: DocumentDiff): boolean {
  if (arrays.size > 0) return true;
  return [...records.values()].some(([before, after]) => !before || !after || isOther(before, after));
}

function isOther(before: AuthoredRecord, after: AuthoredRecord): boolean {
  const [was, is] = [before, after] as unknown as Record<string, unknown>[];
  const fields = new Set([...Object.keys(was!), ...Object.keys(is!)]);
  return [...fields].some(
    (field) => !STILL_FIELDS.has(field) && JSON.stringify(was![field]) !== JSON.stringify(is![field]),
  );
}
