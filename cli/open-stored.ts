import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { Character } from '../server/entities/entities.ts';
import { IntakePool } from '../server/intake/intake-pool.ts';
import { CharacterService } from '../server/services/character-service.ts';
import { UsageError } from './usage-error.ts';
import { withDatabase } from './with-database.ts';

/** What a command is given of a character in the database. */
export interface StoredCharacter {
  id: string;
  characters: CharacterService;
  em: SqlEntityManager;
}

/**
 * Opens the application's database for a character of it, and closes it again.
 *
 * @param wanted - "Project/Character", the character's name where there is one of it, or its id.
 * @throws {UsageError} When there is none, or there are several, with what there is.
 */
export async function withStored<T>(
  wanted: string,
  use: (stored: StoredCharacter) => Promise<T>,
): Promise<T> {
  return withDatabase(async (em) => {
    const pool = new IntakePool();
    try {
      const id = await findCharacter(em, wanted);
      return await use({ em, characters: new CharacterService(em, pool), id });
    } finally {
      await pool.close();
    }
  });
}

async function findCharacter(em: SqlEntityManager, wanted: string): Promise<string> {
  const all = await em.find(
    Character,
    { deletedAt: null, project: { deletedAt: null } },
    { populate: ['project'] },
  );
  const found = all.filter(
    ({ id, name, project }) => id === wanted || `${project.name}/${name}` === wanted || name === wanted,
  );
  if (found.length === 1) return found[0]!.id;
  if (all.length === 0)
    throw new UsageError(
      `no file and no character is called "${wanted}": the database has none yet. ./cobweb start puts the demo in.`,
    );
  const list = (found.length > 1 ? found : all)
    .map(({ id, name, project }) => `  ${project.name}/${name}  ${id}`)
    .join('\n');
  throw new UsageError(
    `${found.length > 1 ? 'several characters are' : 'no file and no character is'} called "${wanted}". There are:\n${list}`,
  );
}
