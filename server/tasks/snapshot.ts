import { IsolationLevel } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import {
  type AuthoredDocument,
  createDocument,
  type Limits,
  raiseRecord,
  tellMotion,
} from '../../core/document/index.ts';
import {
  AuthoredRow,
  Character,
  type IAuthoredRow,
  type StoredFile,
  type VersionRecord,
} from '../entities/entities.ts';
import { BlobService, hashBytes } from '../services/blob-service.ts';
import { checkSeen, hashSource, type SeenState } from '../services/seen-state.ts';
import { ServiceError } from '../services/service-error.ts';
import { foldArrays } from '../services/stored-arrays.ts';

/** A character with all that is authored on it at one moment, by content: the same state has the same bytes, and is stored once. */
export interface Snapshot {
  files: StoredFile[];
  records: VersionRecord[];
  /** Of its project; none when that has none. */
  projectLimits?: Limits;
}

export interface StoredSnapshot {
  hash: string;
  /** All blobs that it needs, itself among them. */
  hashes: string[];
  revision: number;
  motionHash: string;
}

/** Somebody may save between the folding of arrays and the reading; so often it is tried again. */
const MOST_ATTEMPTS = 5;

/**
 * Keeps the present state of a character.
 * @param seen - What the page shows that asks for it. @throws {ServiceError} 409 when that is not what is stored.
 */
export async function storeSnapshot(
  em: SqlEntityManager,
  characterId: string,
  seen?: SeenState,
): Promise<StoredSnapshot> {
  for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
    await foldArrays(em, characterId);
    const state = await readRows(em, characterId, seen);
    if (state.rows.some(({ arrayDelta }) => arrayDelta)) continue;
    const { files, projectLimits } = state;
    const snapshot: Snapshot = {
      files,
      records: state.rows.map(toVersionRecord),
      ...(Object.keys(projectLimits).length > 0 && { projectLimits }),
    };
    const hash = await new BlobService(em).put(new TextEncoder().encode(JSON.stringify(snapshot)));
    const arrays = snapshot.records.flatMap(({ arrayHash }) => (arrayHash ? [arrayHash] : []));
    const hashes = [...new Set([hash, ...arrays, ...snapshot.files.map((file) => file.hash)])];
    return { hash, hashes, revision: state.revision, motionHash: hashMotion(snapshot) };
  }
  throw new ServiceError(409, 'This character is being changed without pause. Try again in a moment.');
}

/** One text for everything that moves in the present state: that of `StoredSnapshot.motionHash`. */
export async function readMotionHash(em: SqlEntityManager, characterId: string): Promise<string> {
  await foldArrays(em, characterId);
  const { files, rows } = await readRows(em, characterId);
  return hashMotion({ files, records: rows.map(toVersionRecord) });
}

/** @throws {Error} When bytes of it are gone. */
export async function readSnapshot(em: SqlEntityManager, hash: string): Promise<Snapshot> {
  const bytes = await new BlobService(em).get(hash);
  if (!bytes) throw new ServiceError(404, 'The state that this was of is gone from the store.');
  return JSON.parse(new TextDecoder().decode(bytes)) as Snapshot;
}

/** What was authored in a state. @throws {Error} When numbers of it are gone. */
export async function readSnapshotDocument(
  em: SqlEntityManager,
  { records, projectLimits }: Snapshot,
): Promise<AuthoredDocument> {
  const document: AuthoredDocument = { ...createDocument(), ...(projectLimits && { projectLimits }) };
  const blobs = new BlobService(em);
  for (const { documentVersion, data, arrayHash } of records) {
    const record = raiseRecord(data, documentVersion);
    document.records.set(record.id, record);
    if (!arrayHash) continue;
    const values = await blobs.get(arrayHash);
    if (!values)
      throw new ServiceError(404, `The numbers of ${record.type} ${record.id} are gone from the store.`);
    document.arrays.set(record.id, new Float32Array(new Uint8Array(values).buffer));
  }
  return document;
}

async function readRows(
  em: SqlEntityManager,
  characterId: string,
  seen?: SeenState,
): Promise<{ files: StoredFile[]; rows: IAuthoredRow[]; revision: number; projectLimits: Limits }> {
  return em.fork().transactional(
    async (own) => {
      const { files, revision, project } = await own.findOneOrFail(
        Character,
        { id: characterId },
        { populate: ['project'] },
      );
      const all = await own.find(AuthoredRow, { character: characterId }, { orderBy: { key: 'asc' } });
      const rows = all.filter(({ data }) => data !== null);
      if (seen)
        checkSeen(seen, {
          source: hashSource({ files }),
          versions: new Map(all.map(({ recordId, version }) => [recordId, version])),
          deleted: new Set(all.flatMap(({ recordId, data }) => (data === null ? [recordId] : []))),
        });
      return { files, rows, revision, projectLimits: project.limits };
    },
    { isolationLevel: IsolationLevel.REPEATABLE_READ, readOnly: true },
  );
}

function toVersionRecord({ documentVersion, data, arrayHash }: IAuthoredRow): VersionRecord {
  return { documentVersion, data: data!, arrayHash: arrayHash ?? null };
}

function hashMotion({ files, records }: Snapshot): string {
  const lines = records.map(
    ({ data, documentVersion, arrayHash }) =>
      `${tellMotion(raiseRecord(data, documentVersion))} ${arrayHash}`,
  );
  return hashBytes(Buffer.from([hashSource({ files }), ...lines].join('\n')));
}
