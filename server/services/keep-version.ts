import { randomUUID } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import {
  AuthoredRow,
  CharacterVersion,
  type ICharacter,
  type ICharacterVersion,
} from '../entities/entities.ts';
import { foldArrays } from './stored-arrays.ts';

/** While somebody works, the state is kept this often. */
const EVERY_MINUTES = 10;
/** Of those that were kept by themselves the newest stay. */
const MOST_AUTOMATIC = 40;

/**
 * Keeps everything authored as it is stored now, as a version to return to. Arrays must be whole, see `foldArrays`.
 *
 * @param name - Null for one that is kept by itself.
 */
export async function keepVersion(
  em: SqlEntityManager,
  character: ICharacter,
  name: string | null,
  now: Date,
): Promise<ICharacterVersion> {
  const rows = await em.find(AuthoredRow, { character: character.id, data: { $ne: null } });
  const version = em.create(CharacterVersion, {
    id: randomUUID(),
    character: character.id,
    name,
    kind: name === null ? 'automatic' : 'named',
    revision: character.revision,
    records: rows.map((row) => ({
      documentVersion: row.documentVersion,
      data: row.data!,
      arrayHash: row.arrayHash ?? null,
    })),
    windows: character.recentWindows,
    createdAt: now,
  });
  character.recentWindows = [];
  await em.flush();
  if (name === null) await dropOldest(em, character.id);
  return version;
}

/**
 * Keeps the state that a save is about to change, when the newest version is older than some minutes and something has changed since.
 * Within the transaction of the save.
 */
export async function keepAutomaticVersion(
  em: SqlEntityManager,
  character: ICharacter,
  now: Date,
): Promise<void> {
  const newest = await findNewest(em, character.id);
  const isRecent = newest && now.getTime() - newest.createdAt.getTime() < 60_000 * EVERY_MINUTES;
  if (isRecent || newest?.revision === character.revision) return;
  // Before anything was authored there is nothing to return to.
  if ((await em.count(AuthoredRow, { character: character.id, data: { $ne: null } })) === 0) return;
  await foldArrays(em, character.id);
  await keepVersion(em, character, null, now);
}

/** Whether the newest version is of the state that is stored now. */
export async function isNewest(em: SqlEntityManager, { id, revision }: ICharacter): Promise<boolean> {
  return (await findNewest(em, id))?.revision === revision;
}

async function findNewest(em: SqlEntityManager, characterId: string): Promise<ICharacterVersion | undefined> {
  const [newest] = await em.find(
    CharacterVersion,
    { character: characterId },
    { orderBy: { createdAt: 'desc' }, limit: 1 },
  );
  return newest;
}

async function dropOldest(em: SqlEntityManager, characterId: string): Promise<void> {
  const old = await em.find(
    CharacterVersion,
    { character: characterId, kind: 'automatic' },
    { orderBy: { createdAt: 'desc' }, offset: MOST_AUTOMATIC, fields: ['id'] },
  );
  if (old.length > 0) await em.nativeDelete(CharacterVersion, { id: { $in: old.map(({ id }) => id) } });
}
