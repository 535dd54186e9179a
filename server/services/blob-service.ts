import { createHash } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { Blob } from '../entities/entities.ts';

export function hashBytes(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/** Stores and reads bytes by their hash. Takes part in the transaction of its entity manager. */
export class BlobService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  /** Stores bytes unless they are there already. @returns Their hash. */
  async put(bytes: Uint8Array): Promise<string> {
    const hash = hashBytes(bytes);
    const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    // Through the query builder: the unit of work would compare and copy the bytes once more.
    await this.#em
      .createQueryBuilder(Blob)
      .insert({ hash, size: buffer.length, bytes: buffer, createdAt: new Date() })
      // One that nothing used is used again: it must not be deleted.
      .onConflict('hash')
      .merge({ unusedSince: null })
      .execute();
    return hash;
  }

  /** Bytes of each of some blobs; what is not there is left out. */
  async listSizes(hashes: readonly string[]): Promise<Map<string, number>> {
    const found = await this.#em
      .createQueryBuilder(Blob)
      .select(['hash', 'size'])
      .where({ hash: { $in: [...hashes] } })
      .execute<{ hash: string; size: number }[]>('all', false);
    return new Map(found.map(({ hash, size }) => [hash, size]));
  }

  async has(hash: string): Promise<boolean> {
    return (await this.#em.count(Blob, { hash })) > 0;
  }

  async get(hash: string): Promise<Uint8Array | null> {
    if (!/^[0-9a-f]{64}$/.test(hash)) return null;
    const row = await this.#em
      .createQueryBuilder(Blob)
      .select(['bytes'])
      .where({ hash })
      .execute<{ bytes: Buffer } | null>('get', false);
    return row ? row.bytes : null;
  }
}
