import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { deleteGone, deleteUnusedBlobs, markUnusedBlobs } from '../database/purge-sql.ts';

/** Whoever has just read a hash may still fetch its bytes for so long. */
const BLOB_MINUTES = 3;
/** A late write to a deleted record is noticed for so long; a deleted character can be taken back for so long. */
const RECORD_DAYS = 1;
const CHARACTER_DAYS = 30;

export interface Purged {
  blobs: number;
  bytes: number;
  records: number;
  characters: number;
}

export interface PurgeAges {
  blobMinutes?: number;
  recordDays?: number;
  characterDays?: number;
}

/**
 * Deletes what nothing refers to any more: first it is marked, and after some minutes deleted. What is put again meanwhile
 * is not (see `BlobService.put`).
 */
export class PurgeService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  async purge(ages: PurgeAges = {}): Promise<Purged> {
    const { blobMinutes = BLOB_MINUTES, recordDays = RECORD_DAYS, characterDays = CHARACTER_DAYS } = ages;
    return this.#em.transactional(async (em) => {
      const { records, characters } = await deleteGone(em, recordDays, characterDays);
      await markUnusedBlobs(em);
      return { records, characters, ...(await deleteUnusedBlobs(em, blobMinutes)) };
    });
  }
}

/** What a purge freed, as a sentence; null when there was nothing. */
export function describePurge({ blobs, bytes, records, characters }: Purged): string | null {
  const parts = [
    blobs > 0 &&
      `${blobs} unused ${blobs === 1 ? 'array or file' : 'arrays and files'} (${(bytes / 1e6).toFixed(1)} MB)`,
    records > 0 && `${records} deleted ${records === 1 ? 'record' : 'records'}`,
    characters > 0 && `${characters} deleted ${characters === 1 ? 'character' : 'characters'}`,
  ].filter(Boolean);
  return parts.length > 0 ? `freed ${parts.join(', ')}` : null;
}
