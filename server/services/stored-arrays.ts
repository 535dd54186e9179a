import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { AuthoredRow, Character, type IAuthoredRow } from '../entities/entities.ts';
import { applyDelta, extendDelta, packDelta, unpackDelta } from './array-delta.ts';
import { BlobService } from './blob-service.ts';
import type { ArrayEdit } from './record-change.ts';

/** A delta of more than this, and than this share of its array, is worked into it. */
const LEAST_FOLD_BYTES = 2048;
const FOLD_SHARE = 1 / 8;

/** Numbers beside a record, with what changed of them since they were stored whole; null when there are none. */
export async function readStoredArray(
  blobs: BlobService,
  { arrayHash, arrayDelta }: Pick<IAuthoredRow, 'arrayHash' | 'arrayDelta'>,
): Promise<Float32Array | null> {
  const bytes = arrayHash ? await blobs.get(arrayHash) : null;
  // A copy: the driver's bytes are a view into a block that holds other rows too.
  return bytes && applyDelta(new Float32Array(new Uint8Array(bytes).buffer), unpackDelta(arrayDelta));
}

export function toBytes(values: Float32Array): Uint8Array {
  return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
}

/** Keeps a change of some values beside the array, until there are so many that the array is stored anew. */
export async function writeArrayEdit(blobs: BlobService, row: IAuthoredRow, edit: ArrayEdit): Promise<void> {
  if (!edit.indices) {
    row.arrayHash = await blobs.put(toBytes(edit.values));
    row.arrayDelta = null;
    return;
  }
  const delta = packDelta(extendDelta(row.arrayDelta, edit));
  row.arrayDelta = delta;
  const size = (await blobs.listSizes([row.arrayHash!])).get(row.arrayHash!) ?? 0;
  if (delta.length > Math.max(LEAST_FOLD_BYTES, FOLD_SHARE * size)) await foldArray(blobs, row);
}

async function foldArray(blobs: BlobService, row: IAuthoredRow): Promise<void> {
  const values = await readStoredArray(blobs, row);
  if (values) row.arrayHash = await blobs.put(toBytes(values));
  row.arrayDelta = null;
}

/** Stores arrays whole that were changed in parts: then each is named by the hash of its bytes. */
export async function foldArrays(manager: SqlEntityManager, characterId: string): Promise<void> {
  const where = { character: characterId, arrayDelta: { $ne: null } };
  if ((await manager.count(AuthoredRow, where)) === 0) return;
  await manager.transactional(async (em) => {
    // Saves of one character wait for each other here.
    await em.findOne(Character, { id: characterId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    const blobs = new BlobService(em);
    for (const row of await em.find(AuthoredRow, where)) await foldArray(blobs, row);
  });
}
