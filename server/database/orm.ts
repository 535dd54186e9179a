import { Migrator } from '@mikro-orm/migrations';
import { MikroORM, PostgreSqlDriver } from '@mikro-orm/postgresql';
import { ENTITIES } from '../entities/entities.ts';
import { Migration0001 } from './migrations/Migration0001.ts';
import { Migration0002 } from './migrations/Migration0002.ts';
import { Migration0003 } from './migrations/Migration0003.ts';
import { Migration0004 } from './migrations/Migration0004.ts';
import { Migration0005 } from './migrations/Migration0005.ts';
import { Migration0006 } from './migrations/Migration0006.ts';
import { Migration0007 } from './migrations/Migration0007.ts';
import { Migration0008 } from './migrations/Migration0008.ts';
import { Migration0009 } from './migrations/Migration0009.ts';
import { Migration0010 } from './migrations/Migration0010.ts';

/** Any number that no other program locks on this database. */
const MIGRATION_LOCK = 7_304_221;

/** Opens the database. One for each process; fork an entity manager for each request. */
export function createOrm(databaseUrl: string): Promise<MikroORM> {
  return MikroORM.init({
    driver: PostgreSqlDriver,
    clientUrl: databaseUrl,
    entities: ENTITIES,
    extensions: [Migrator],
    migrations: {
      migrationsList: [
        { name: 'Migration0001', class: Migration0001 },
        { name: 'Migration0002', class: Migration0002 },
        { name: 'Migration0003', class: Migration0003 },
        { name: 'Migration0004', class: Migration0004 },
        { name: 'Migration0005', class: Migration0005 },
        { name: 'Migration0006', class: Migration0006 },
        { name: 'Migration0007', class: Migration0007 },
        { name: 'Migration0008', class: Migration0008 },
        { name: 'Migration0009', class: Migration0009 },
        { name: 'Migration0010', class: Migration0010 },
      ],
      snapshot: false,
      silent: true,
    },
    pool: { min: 0, max: 10 },
    discovery: { warnWhenNoEntities: false },
  }) as Promise<MikroORM>;
}

/** Brings the schema up to date. Two processes at once wait for each other. */
export async function migrate(orm: MikroORM): Promise<void> {
  // The lock lives as long as this transaction; the migrator works on connections of its own.
  await orm.em.fork().transactional(async (em) => {
    await em
      .getConnection()
      .execute(`select pg_advisory_xact_lock(${MIGRATION_LOCK})`, [], 'all', em.getTransactionContext());
    await orm.migrator.up();
  });
}
