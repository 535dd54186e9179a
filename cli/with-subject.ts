import { existsSync } from 'node:fs';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { REFERENCE_TARGET, type TargetProfile } from '../core/cost/index.ts';
import { type AuthoredDocument, listGarments } from '../core/document/index.ts';
import { prepareCharacter } from '../core/prepare/index.ts';
import type { Character } from '../core/rig/index.ts';
import { readCharacter } from '../formats/index.ts';
import { readProjectTarget } from '../server/services/target-service.ts';
import {
  readSnapshot,
  readSnapshotDocument,
  type StoredSnapshot,
  storeSnapshot,
} from '../server/tasks/snapshot.ts';
import { withStored } from './open-stored.ts';
import { readDressed } from './read-dressed.ts';
import { UsageError } from './usage-error.ts';

/** A character as it is prepared, with what is authored on it. */
export interface Subject {
  character: Character;
  document: AuthoredDocument;
  /** The machine that costs are told for. */
  target: TargetProfile;
  /** Where it is kept; null of a file. */
  stored: { em: SqlEntityManager; id: string; snapshot: StoredSnapshot } | null;
}

/**
 * Opens a character to be measured: a file that was shipped, or one of the application's database as it is stored now.
 *
 * @param wanted - Path of a file, or what `withStored` takes.
 * @throws {UsageError} When there is none, or it has no garments.
 */
export async function withSubject<T>(wanted: string, use: (subject: Subject) => Promise<T>): Promise<T> {
  if (existsSync(wanted)) {
    const { character, authored } = await readDressed(wanted);
    return use({ character, document: authored, target: REFERENCE_TARGET, stored: null });
  }
  return withStored(wanted, async ({ em, characters, id }) => {
    const snapshot = await storeSnapshot(em, id);
    const document = await readSnapshotDocument(em, await readSnapshot(em, snapshot.hash));
    if (listGarments(document).length === 0)
      throw new UsageError(`${wanted} has no garments: make one in the workbench first.`);
    const stored = await characters.find(id);
    const { character } = await readCharacter(await characters.readFiles(stored));
    return use({
      character: prepareCharacter(character, document).character,
      document,
      target: await readProjectTarget(em, stored.project.id),
      stored: { em, id, snapshot },
    });
  });
}
