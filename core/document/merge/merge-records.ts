import { dequal } from 'dequal/lite';
import type { AuthoredRecord } from '../records/index.ts';

type Plain = Record<string, unknown>;

/** A value that both sides changed, to different ones. */
export interface FieldConflict {
  /** From the record inward: `settings`, `density`. */
  path: readonly string[];
  mine: unknown;
  theirs: unknown;
}

export interface MergedRecord {
  /** With every change of both; where they differ, mine. Null: it is gone. */
  record: AuthoredRecord | null;
  conflicts: FieldConflict[];
}

/**
 * Two changes of one record, made from the same state: what only one of them changed is taken from it, field by field and
 * within fields that are objects. Lists count as one value. Whoever deletes what the other changed is in conflict.
 */
export function mergeRecords(
  base: AuthoredRecord | null,
  mine: AuthoredRecord | null,
  theirs: AuthoredRecord | null,
): MergedRecord {
  const conflicts: FieldConflict[] = [];
  const record = mergeValues(base, mine, theirs, [], conflicts) as AuthoredRecord | null;
  return { record, conflicts };
}

function mergeValues(
  base: unknown,
  mine: unknown,
  theirs: unknown,
  path: readonly string[],
  conflicts: FieldConflict[],
): unknown {
  if (dequal(mine, theirs) || dequal(base, theirs)) return mine;
  if (dequal(base, mine)) return theirs;
  if (!isPlain(mine) || !isPlain(theirs)) {
    conflicts.push({ path, mine, theirs });
    return mine;
  }
  const before = isPlain(base) ? base : {};
  const merged: Plain = {};
  for (const key of new Set([...Object.keys(mine), ...Object.keys(theirs)])) {
    const value = mergeValues(before[key], mine[key], theirs[key], [...path, key], conflicts);
    if (value !== undefined) merged[key] = value;
  }
  return merged;
}

function isPlain(value: unknown): value is Plain {
  return value !== null && typeof value === 'object' && !Array.isArray(value);
}
