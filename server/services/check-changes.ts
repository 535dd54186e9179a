import {
  type AuthoredDocument,
  type AuthoredRecord,
  checkRecord,
  listReferences,
  mayHaveArray,
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
      array: readArray(change, record),
      storedLength: before.arrayLengths.get(id as RecordId) ?? 0,
      jointNames: before.jointNames,
    });
    if (fault) refuse(id, fault);
    checkReferences(record, after);
  }
}

function readArray({ id, array }: RecordChange, record: AuthoredRecord): Float32Array | null {
  if (!array) return null;
  if (!mayHaveArray(record.type)) refuse(id, `numbers are kept beside maps and steps, not a ${record.type}`);
  if (array.length % 4 !== 0) refuse(id, `its ${array.length} bytes are no whole number of floats`);
  const values = new Float32Array(new Uint8Array(array).buffer);
  const bad = values.findIndex((value) => !Number.isFinite(value));
  if (bad >= 0) refuse(id, `its number ${bad} is not a number`);
  return values;
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
