import {
  type AuthoredDocument,
  type AuthoredRecord,
  checkRecord,
  listReferences,
  mayHaveArray,
  type RecordFacts,
  type RecordId,
} from '../../core/document/index.ts';
import type { RecordChange } from './record-change.ts';
import { ServiceError } from './service-error.ts';

/** What is stored before a change, and what the character has. */
export interface StoredFacts extends Pick<AuthoredDocument, 'records'> {
  /** Lengths of the arrays beside records. */
  arrayLengths: ReadonlyMap<RecordId, number>;
  jointNames: ReadonlySet<string>;
}

/**
 * Refuses changes that would leave a document that nothing can be made of, whatever each says for itself.
 *
 * @throws {ServiceError} 422 that names the record, what is wrong with it, and what to do.
 */
export function checkChanges(changes: readonly RecordChange[], before: StoredFacts): void {
  const after = new Map(before.records);
  const seen = new Set<string>();
  for (const { id, record } of changes) {
    if (seen.has(id)) refuse(id, 'it is in the request twice');
    seen.add(id);
    if (record && record.id !== id) refuse(id, `the record says that its id is "${record.id}"`);
    if (record) after.set(id as RecordId, record);
    else after.delete(id as RecordId);
  }
  for (const change of changes) {
    const { id, record, array } = change;
    if (!record) {
      if (array) refuse(id, 'it is deleted, but has numbers');
      continue;
    }
    const fault = checkRecord(record, {
      ...readArray(change, record, before.arrayLengths.get(id as RecordId) ?? 0),
      jointNames: before.jointNames,
    });
    if (fault) refuse(id, fault);
    checkReferences(record, after);
  }
}

function readArray(
  { id, array }: RecordChange,
  record: AuthoredRecord,
  storedLength: number,
): Pick<RecordFacts, 'values' | 'indices' | 'length'> {
  if (!array) return { values: null, indices: null, length: storedLength };
  if (!mayHaveArray(record.type)) refuse(id, `numbers are kept beside maps and steps, not a ${record.type}`);
  const { values, indices } = array;
  const bad = values.findIndex((value) => !Number.isFinite(value));
  if (bad >= 0) refuse(id, `its number ${indices?.[bad] ?? bad} is not a number`);
  if (!indices) return { values, indices, length: values.length };
  const out = indices.findIndex((index, k) => index >= storedLength || (k > 0 && index <= indices[k - 1]!));
  if (out >= 0 || indices.length !== values.length)
    refuse(id, `it changes value ${indices[out] ?? indices.length}, and ${storedLength} are stored`);
  return { values, indices, length: storedLength };
}

function checkReferences(record: AuthoredRecord, after: ReadonlyMap<RecordId, AuthoredRecord>): void {
  for (const { field, id, type } of listReferences(record)) {
    if (after.get(id as RecordId)?.type !== type)
      refuse(record.id, `its ${field} "${id}" is no ${type} of this character`);
  }
}

function refuse(id: string, why: string): never {
  throw new ServiceError(
    422,
    `The record "${id}" cannot be saved: ${why}. Nothing was stored; reload the page and try again.`,
  );
}
