import type { TrialEntry } from '../wire/trials.ts';

/** The newest that stay, whatever they are. */
const NEWEST = 20;

/**
 * Trials that can go when there are many: of those beyond the newest twenty, what began by itself, but for the last of each day. What was
 * ordered stays.
 * @param trials - The newest first.
 */
export function chooseOld(trials: readonly TrialEntry[]): TrialEntry[] {
  const days = new Set<string>();
  return trials.filter(({ createdAt, isAutomatic }, index) => {
    const day = new Date(createdAt).toDateString();
    const isLastOfDay = !days.has(day);
    days.add(day);
    return index >= NEWEST && isAutomatic && !isLastOfDay;
  });
}
