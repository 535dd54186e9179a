import type { AuthoredDocument, AuthoredRecord, RecordId, RecordType } from '../../core/document/index.ts';
import { CHANNELS } from '../../core/reach/index.ts';
import type { RecordChange } from './record-change.ts';
import { ServiceError } from './service-error.ts';

/** Records that numbers may be kept beside. */
const WITH_ARRAY: ReadonlySet<RecordType> = new Set(['channel', 'step']);

/** What a record names, and of which type that must be. */
const REFERENCES: Partial<Record<RecordType, Readonly<Record<string, RecordType>>>> = {
  garment: { fabricId: 'fabric', bodySetId: 'bodySet' },
  channel: { garmentId: 'garment' },
  body: { bodySetId: 'bodySet' },
};

/**
 * Refuses changes that would leave a document that nothing can be made of, whatever each says for itself.
 *
 * @param before - What is stored: all records, and lengths of arrays by record.
 * @param nodeCount - Of the character: joints that bodies may sit on.
 * @throws {ServiceError} 422 that names the record, what is wrong with it, and what to do.
 */
export function checkChanges(
  changes: readonly RecordChange[],
  before: Pick<AuthoredDocument, 'records'> & { arrayLengths: ReadonlyMap<RecordId, number> },
  nodeCount: number,
): void {
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
    checkArray(change, record, before.arrayLengths.get(id as RecordId));
    checkReferences(record, after);
    if (record.type === 'body' && record.shape.node >= nodeCount)
      refuse(id, `it sits on joint ${record.shape.node}, and the character has ${nodeCount}`);
  }
}

function checkArray({ id, array }: RecordChange, record: AuthoredRecord, stored: number | undefined): void {
  if (array && !WITH_ARRAY.has(record.type))
    refuse(id, `numbers are kept beside maps and steps, not a ${record.type}`);
  if (array && array.length % 4 !== 0) refuse(id, `its ${array.length} bytes are no whole number of floats`);
  const values = array && new Float32Array(new Uint8Array(array).buffer);
  const bad = values?.findIndex((value) => !Number.isFinite(value)) ?? -1;
  if (bad >= 0) refuse(id, `its number ${bad} is not a number`);
  if (record.type !== 'channel') return;
  const length = values?.length ?? stored ?? 0;
  if (length !== record.pointCount)
    refuse(id, `it is of ${record.pointCount} points and has ${length} values`);
  // The ends of the range as the values are kept.
  const [low, high] = CHANNELS[record.kind].range.map(Math.fround) as [number, number];
  const out = values?.findIndex((value) => value < low || value > high) ?? -1;
  if (out >= 0) refuse(id, `its value at point ${out} (${values![out]}) is not within ${low} to ${high}`);
}

function checkReferences(record: AuthoredRecord, after: ReadonlyMap<RecordId, AuthoredRecord>): void {
  for (const [key, type] of Object.entries(REFERENCES[record.type] ?? {})) {
    const named = (record as unknown as Record<string, RecordId>)[key]!;
    if (after.get(named)?.type !== type)
      refuse(record.id, `its ${key} "${named}" is no ${type} of this character`);
  }
}

function refuse(id: string, why: string): never {
  throw new ServiceError(
    422,
    `The record "${id}" cannot be saved: ${why}. Nothing was stored; reload the page and try again.`,
  );
}
