import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { dequal } from 'dequal';
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
import { BlobService } from './blob-service.ts';
import { checkChanges, type StoredFacts } from './check-changes.ts';
import { keepAutomaticVersion } from './keep-version.ts';
import { readJointNames } from './read-joint-names.ts';
import type { RecordChange } from './record-change.ts';
import { ServiceError } from './service-error.ts';
import { foldArrays, readStoredArray, toBytes, writeArrayEdit } from './stored-arrays.ts';

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
    await foldArrays(this.#em, characterId);
    const rows = await this.#em.find(
      AuthoredRow,
      { character: characterId, data: { $ne: null } },
      { orderBy: { key: 'asc' } },
    );
    return rows.map(toStored);
  }

  async readDocument(characterId: string): Promise<AuthoredDocument> {
    return (await this.readState(characterId)).document;
  }

  /** The document with the version of each record, deleted ones too, all read at one moment. */
  async readState(
    characterId: string,
  ): Promise<{ document: AuthoredDocument; versions: Map<string, number>; deleted: Set<string> }> {
    const rows = await this.#em.find(AuthoredRow, { character: characterId }, { orderBy: { key: 'asc' } });
    const live = rows.filter((row) => row.data !== null);
    return {
      document: await this.#toDocument(live),
      versions: new Map(rows.map((row) => [row.recordId, row.version])),
      deleted: new Set(rows.filter((row) => row.data === null).map((row) => row.recordId)),
    };
  }

  async #toDocument(rows: readonly IAuthoredRow[]): Promise<AuthoredDocument> {
    const document = createDocument();
    const blobs = new BlobService(this.#em);
    for (const row of rows) {
      const record = raise(row);
      document.records.set(record.id, record);
      const values = await readStoredArray(blobs, row);
      if (values) document.arrays.set(record.id, values);
    }
    return document;
  }

  /**
   * Writes all changes or none.
   * @throws {ServiceError} 409 with the newer records when any change was made on an older version. A change that
   * says what is stored already is not a conflict: it is an earlier save whose answer was lost.
   */
  async write(
    characterId: string,
    changes: readonly RecordChange[],
    window: string | null = null,
  ): Promise<WrittenChanges> {
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
      const service = new AuthoredService(em);
      const conflicting: string[] = [];
      for (const change of changes) {
        const row = rowOf.get(change.id);
        const isNewest = (row?.version ?? 0) === change.baseVersion;
        if (!isNewest && !(row && (await service.#saysTheSame(row, change)))) conflicting.push(change.id);
      }
      if (conflicting.length > 0) {
        const conflicts = await service.#describe(conflicting.map((id) => rowOf.get(id)));
        throw new ServiceError(409, 'Another window has saved newer changes to the same records.', {
          conflicts,
        });
      }
      const blobs = new BlobService(em);
      checkChanges(changes, {
        ...(await readBefore(blobs, rows)),
        jointNames: await readJointNames(blobs, character.packedHash),
      });
      const now = new Date();
      await keepAutomaticVersion(em, character, now);
      const versions: Record<string, number> = {};
      for (const change of changes)
        versions[change.id] = await service.#writeOne(characterId, change, rowOf.get(change.id), now);
      if (window && !character.recentWindows.includes(window))
        character.recentWindows = [...character.recentWindows, window];
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
    characterId: string,
    { id, record, array }: RecordChange,
    row: IAuthoredRow | undefined,
    now: Date,
  ): Promise<number> {
    const blobs = new BlobService(this.#em);
    if (!row) {
      const arrayHash = array ? await blobs.put(toBytes(array.values)) : null;
      this.#em.create(AuthoredRow, {
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
    if (array) await writeArrayEdit(blobs, row, array);
    row.editedAt = now;
    return row.version;
  }

  /** Whether a row holds what a change would make of it: an earlier save whose answer was lost. */
  async #saysTheSame(row: IAuthoredRow, { record, array }: RecordChange): Promise<boolean> {
    if (!dequal(row.data ? raise(row) : null, record)) return false;
    if (!array) return true;
    const blobs = new BlobService(this.#em);
    const stored = await readStoredArray(blobs, row);
    if (!stored || (!array.indices && stored.length !== array.values.length)) return false;
    return array.values.every((value, k) => stored[array.indices?.[k] ?? k] === value);
  }

  async #describe(rows: (IAuthoredRow | undefined)[]): Promise<Conflict[]> {
    const blobs = new BlobService(this.#em);
    const conflicts: Conflict[] = [];
    for (const row of rows) {
      if (!row) continue;
      const values = await readStoredArray(blobs, row);
      conflicts.push({
        id: row.recordId,
        version: row.version,
        record: row.data ? raise(row) : null,
        array: values ? Buffer.from(toBytes(values)).toString('base64') : null,
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

/** The changes that store a whole document on a character without any. */
export function toChanges(document: AuthoredDocument): RecordChange[] {
  return [...document.records.values()].map((record) => {
    const values = document.arrays.get(record.id as RecordId);
    return {
      id: record.id,
      baseVersion: 0,
      record,
      ...(values ? { array: { indices: null, values } } : {}),
    };
  });
}
