import type { MikroORM } from '@mikro-orm/postgresql';
import { createOrm, migrate } from './database/orm.ts';

let count = 0;

export interface TestDatabase {
  orm: MikroORM;
  url: string;
  name: string;
}

/**
 * A database of its own for a test file, on the cluster that the test command started.
 * @param template - Name of a database that it begins as a copy of; nobody may be connected to that.
 */
export async function createTestDatabase(template?: string): Promise<TestDatabase> {
  const database = await createEmptyDatabase(template);
  await migrate(database.orm);
  return database;
}

/** The same without any migration. */
export async function createEmptyDatabase(template?: string): Promise<TestDatabase> {
  const admin = process.env.COBWEB_TEST_DATABASE_URL;
  if (!admin) throw new Error('These tests need a database: run them with ./cobweb test server.');
  const name = `test_${process.pid}_${++count}`;
  const adminOrm = await createOrm(admin);
  await adminOrm.em
    .getConnection()
    .execute(`create database ${name}${template ? ` template ${template}` : ''}`);
  await adminOrm.close();
  const url = new URL(admin);
  url.pathname = `/${name}`;
  return { orm: await createOrm(url.href), url: url.href, name };
}
