import { type Loaded, LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import {
  type DocumentState,
  describeChanges,
  raiseRecord,
  type StateRecord,
} from '../../core/document/index.ts';
import {
  Character,
  CharacterVersion,
  type ICharacterVersion,
  type VersionRecord,
} from '../entities/entities.ts';
import { AuthoredService, type StoredRecord } from './authored-service.ts';
import { isNewest, keepVersion } from './keep-version.ts';
import { cleanName, isId } from './project-service.ts';
import { ServiceError } from './service-error.ts';
import { foldArrays } from './stored-arrays.ts';

/** A version as the history lists it. */
export interface VersionSummary {
  id: string;
  /** Null for one that was kept by itself. */
  name: string | null;
  createdAt: string;
  /** Windows that made it what it is. */
  windows: string[];
  /** What changed since the version before it, in words. */
  changes: string[];
}

export interface History {
  /** Newest first. */
  versions: VersionSummary[];
  /** What changed since the newest one, and in which windows. */
  now: Pick<VersionSummary, 'changes' | 'windows'>;
}

/** Versions of a character to return to: kept by themselves while somebody works, or by name. */
export class VersionService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  async list(characterId: string): Promise<History> {
    const character = await this.#em.findOne(Character, {
      id: isId(characterId) ? characterId : null,
      deletedAt: null,
    });
    if (!character) throw notThere();
    const versions = await this.#em.find(
      CharacterVersion,
      { character: characterId },
      { orderBy: { createdAt: 'asc' }, populate: ['records'] },
    );
    let before: DocumentState = new Map();
    const summaries = versions.map((version): VersionSummary => {
      const after = toState(listRecords(version));
      const changes = describeChanges(before, after);
      before = after;
      const { id, name, windows, createdAt } = version;
      return { id, name: name ?? null, createdAt: createdAt.toISOString(), windows, changes };
    });
    const stored = await new AuthoredService(this.#em).list(characterId);
    const now = new Map(stored.map((one) => [one.record.id, one]));
    return {
      versions: summaries.reverse(),
      now: { changes: describeChanges(before, now), windows: character.recentWindows },
    };
  }

  /**
   * Keeps the present state.
   * @param name - Null: kept by itself. @returns Null when it has no name, and the newest version is the same.
   */
  async keep(characterId: string, name: string | null): Promise<ICharacterVersion | null> {
    return this.#em.transactional(async (em) => {
      const character = await em.findOne(
        Character,
        { id: isId(characterId) ? characterId : null, deletedAt: null },
        { lockMode: LockMode.PESSIMISTIC_WRITE },
      );
      if (!character) throw notThere();
      if (name === null && (await isNewest(em, character))) return null;
      await foldArrays(em, characterId);
      return keepVersion(em, character, name === null ? null : cleanName(name), new Date());
    });
  }

  /** All records of a version, as `AuthoredService.list` gives those of now. */
  async read(characterId: string, versionId: string): Promise<StoredRecord[]> {
    const version = await this.#find(characterId, versionId);
    return listRecords(version).map((one) => ({ ...toStateRecord(one), version: 0 }));
  }

  /** Names a version; one that was kept by itself is then kept for good. */
  async rename(characterId: string, versionId: string, name: string): Promise<void> {
    const version = await this.#find(characterId, versionId);
    version.name = cleanName(name);
    version.kind = 'named';
    await this.#em.flush();
  }

  async remove(characterId: string, versionId: string): Promise<void> {
    await this.#em.remove(await this.#find(characterId, versionId)).flush();
  }

  async #find(characterId: string, versionId: string): Promise<Loaded<ICharacterVersion, 'records'>> {
    const version = isId(versionId)
      ? await this.#em.findOne(
          CharacterVersion,
          { id: versionId, character: isId(characterId) ? characterId : null },
          { populate: ['records'] },
        )
      : null;
    if (!version) throw new ServiceError(404, 'This version is not there any more.');
    return version;
  }
}

function listRecords(version: Loaded<ICharacterVersion, 'records'>): VersionRecord[] {
  return version.records.get() ?? [];
}

function toStateRecord({ data, documentVersion, arrayHash }: VersionRecord): StateRecord {
  return { record: raiseRecord(data, documentVersion), arrayHash };
}

function toState(records: readonly VersionRecord[]): DocumentState {
  return new Map(records.map((one) => [one.data.id, toStateRecord(one)]));
}

function notThere(): ServiceError {
  return new ServiceError(404, 'There is no such character. It may have been deleted in another window.');
}
