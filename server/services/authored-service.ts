import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { scaleShape } from '../../core/bodies/index.ts';
import {
  type AuthoredDocument,
  type AuthoredRecord,
  createDocument,
  DOCUMENT_VERSION,
  type RecordId,
  raiseRecord,
} from '../../core/document/index.ts';
import { AuthoredRow, Character, type IAuthoredRow } from '../entities/entities.ts';
import { BlobService, hashBytes } from './blob-service.ts';
import { checkChanges, type StoredFacts } from './check-changes.ts';
import { readJointNames } from './read-joint-names.ts';
import type { RecordChange } from './record-change.ts';
import { ServiceError } from './service-error.ts';

export interface Conflict {
  id: string;
  version: number;
  record: AuthoredRecord | null;
  /** Base64 of the numbers kept beside the record, when there are any. */
  array: string | null;
}

export interface WrittenChanges {
  /** New version of each record. */
  versions: Record<string, number>;
  /** Revision of the character that they made. */
  revision: number;
}

export interface StoredRecord {
  record: AuthoredRecord;
  version: number;
  arrayHash: string | null;
}

/** Authored records of a character: read whole, written as changes in one transaction, never over a newer version. */
export class AuthoredService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  async list(characterId: string): Promise<StoredRecord[]> {
    const rows = await this.#em.find(
      AuthoredRow,
      { character: characterId, data: { $ne: null } },
      { orderBy: { key: 'asc' } },
    );
    return rows.map(toStored);
  }

  async readDocument(characterId: string): Promise<AuthoredDocument> {
    return this.#toDocument(await this.list(characterId));
  }

  /** The document with the version of each record, deleted ones too, all read at one moment. */
  async readState(
    characterId: string,
  ): Promise<{ document: AuthoredDocument; versions: Map<string, number>; deleted: Set<string> }> {
    const rows = await this.#em.find(AuthoredRow, { character: characterId }, { orderBy: { key: 'asc' } });
    const live = rows.filter((row) => row.data !== null);
    return {
      document: await this.#toDocument(live.map(toStored)),
      versions: new Map(rows.map((row) => [row.recordId, row.version])),
      deleted: new Set(rows.filter((row) => row.data === null).map((row) => row.recordId)),
    };
  }

  async #toDocument(stored: readonly StoredRecord[]): Promise<AuthoredDocument> {
    const document = createDocument();
    const blobs = new BlobService(this.#em);
    for (const { record, arrayHash } of stored) {
      document.records.set(record.id, record);
      if (!arrayHash) continue;
      const bytes = await blobs.get(arrayHash);
      if (bytes) document.arrays.set(record.id, toFloats(bytes));
    }
    return document;
  }

  /**
   * Writes all changes or none.
   * @throws {ServiceError} 409 with the newer records when any change was made on an older version. A change that
   * says what is stored already is not a conflict: it is an earlier save whose answer was lost.
   */
  async write(characterId: string, changes: readonly RecordChange[]): Promise<WrittenChanges> {
    return this.#em.transactional(async (em) => {
      // Saves of one character wait for each other here.
      const character = await em.findOne(
        Character,
        { id: characterId, deletedAt: null },
        { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true },
      );
      if (!character)
        throw new ServiceError(
          404,
          'This character is not there any more. It was deleted in another window.',
        );
      const rows = await em.find(AuthoredRow, { character: characterId });
      const rowOf = new Map(rows.map((row) => [row.recordId, row]));
      const conflicting = changes.filter((change) => {
        const row = rowOf.get(change.id);
        return (row?.version ?? 0) !== change.baseVersion && !(row && saysTheSame(row, change));
      });
      if (conflicting.length > 0) {
        const conflicts = await this.#describe(conflicting.map(({ id }) => rowOf.get(id)));
        throw new ServiceError(409, 'Another window has saved newer changes to the same records.', {
          conflicts,
        });
      }
      const blobs = new BlobService(em);
      checkChanges(changes, {
        ...(await readBefore(blobs, rows)),
        jointNames: await readJointNames(blobs, character.packedHash),
      });
      const versions: Record<string, number> = {};
      const now = new Date();
      for (const change of changes)
        versions[change.id] = await this.#writeOne(em, blobs, characterId, change, rowOf.get(change.id), now);
      character.editedAt = now;
      character.revision++;
      return { versions, revision: character.revision };
    });
  }

  /** Bodies that were made in other units, in metres. @param scales - Joint → metres in one of its units. */
  async scaleBodies(characterId: string, scales: Readonly<Record<string, number>>): Promise<void> {
    const rows = await this.#em.find(AuthoredRow, {
      character: characterId,
      type: 'body',
      data: { $ne: null },
    });
    for (const row of rows) {
      const body = raise(row);
      const scale = body.type === 'body' ? (scales[body.jointName] ?? 1) : 1;
      if (body.type !== 'body' || scale === 1) continue;
      row.data = { ...body, shape: scaleShape(body.shape, scale) };
      row.documentVersion = DOCUMENT_VERSION;
      row.version++;
    }
    await this.#em.flush();
  }

  async #writeOne(
    em: SqlEntityManager,
    blobs: BlobService,
    characterId: string,
    { id, record, array }: RecordChange,
    row: IAuthoredRow | undefined,
    now: Date,
  ): Promise<number> {
    const arrayHash = array ? await blobs.put(array) : null;
    if (!row) {
      em.create(AuthoredRow, {
        key: `${characterId}/${id}`,
        character: characterId,
        recordId: id,
        type: record?.type ?? 'deleted',
        version: 1,
        documentVersion: DOCUMENT_VERSION,
        data: record,
        arrayHash,
        editedAt: now,
      });
      return 1;
    }
    row.version++;
    row.documentVersion = DOCUMENT_VERSION;
    row.data = record;
    if (record) row.type = record.type;
    if (arrayHash) row.arrayHash = arrayHash;
    row.editedAt = now;
    return row.version;
  }

  async #describe(rows: (IAuthoredRow | undefined)[]): Promise<Conflict[]> {
    const blobs = new BlobService(this.#em);
    const conflicts: Conflict[] = [];
    for (const row of rows) {
      if (!row) continue;
      const bytes = row.arrayHash ? await blobs.get(row.arrayHash) : null;
      conflicts.push({
        id: row.recordId,
        version: row.version,
        record: row.data ? raise(row) : null,
        array: bytes ? Buffer.from(bytes).toString('base64') : null,
      });
    }
    return conflicts;
  }
}

/** What changes are checked against. */
async function readBefore(
  blobs: BlobService,
  rows: readonly IAuthoredRow[],
): Promise<Omit<StoredFacts, 'jointNames'>> {
  const live = rows.filter((row) => row.data !== null);
  const sizes = await blobs.listSizes(live.flatMap((row) => row.arrayHash ?? []));
  return {
    records: new Map(live.map((row) => [row.recordId as RecordId, raise(row)])),
    arrayLengths: new Map(
      live.flatMap((row): [RecordId, number][] =>
        row.arrayHash ? [[row.recordId as RecordId, (sizes.get(row.arrayHash) ?? 0) / 4]] : [],
      ),
    ),
  };
}

/** The record of a row as this version keeps it. */
function raise(row: IAuthoredRow): AuthoredRecord {
  return raiseRecord(row.data!, row.documentVersion);
}

function toStored(row: IAuthoredRow): StoredRecord {
  return { record: raise(row), version: row.version, arrayHash: row.arrayHash ?? null };
}

function saysTheSame(row: IAuthoredRow, change: RecordChange): boolean {
  if (change.array && hashBytes(change.array) !== row.arrayHash) return false;
  return canonical(row.data ? raise(row) : null) === canonical(change.record);
}

/** JSON with sorted keys: the database does not keep their order. */
function canonical(value: unknown): string {
  return JSON.stringify(value, (_key, part: unknown) =>
    part !== null && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([p], [q]) => (p < q ? -1 : 1)))
      : part,
  );
}

function toFloats(bytes: Uint8Array): Float32Array {
  // A copy: the driver's bytes are a view into a block that holds other rows too.
  return new Float32Array(new Uint8Array(bytes).buffer);
}

/** The changes that store a whole document on a character without any. */
export function toChanges(document: AuthoredDocument): RecordChange[] {
  return [...document.records.values()].map((record) => {
    const values = document.arrays.get(record.id as RecordId);
    return {
      id: record.id,
      baseVersion: 0,
      record,
      ...(values ? { array: new Uint8Array(values.buffer, values.byteOffset, values.byteLength) } : {}),
    };
  });
}
