import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { createOrm, migrate } from '../server/database/orm.ts';
import { openDatabase } from './environment.ts';

/** Opens the application's database, brought up to date, and closes it again. */
export async function withDatabase<T>(use: (em: SqlEntityManager) => Promise<T>): Promise<T> {
  const database = await openDatabase(() => {});
  try {
    const orm = await createOrm(database.url);
    try {
      await migrate(orm);
      return await use(orm.em.fork());
    } finally {
      await orm.close();
    }
  } finally {
    await database.stop();
  }
}
