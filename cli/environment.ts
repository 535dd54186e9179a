import { createHash } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { PostgresCluster } from '../server/database/cluster.ts';
import { canUseFolder, findDatabaseUser, makeOpenFolder } from '../server/database/database-user.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { SetupError } from '../server/setup-error.ts';

/** Folder with everything that the application keeps, made when missing: COBWEB_DATA, or `.cobweb` in the project. */
export function getDataFolder(): string {
  const folder = resolve(process.env.COBWEB_DATA || join(findProjectRoot(), '.cobweb'));
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    const why = (error as Error).message;
    throw new SetupError(
      `The data folder cannot be made (${why}). Set COBWEB_DATA to a folder you may write to.`,
    );
  }
  return folder;
}

export interface DatabaseHandle {
  url: string;
  stop(): Promise<void>;
}

/** The database at DATABASE_URL, or a cluster of our own in the data folder. */
export async function openDatabase(say: (line: string) => void): Promise<DatabaseHandle> {
  const url = process.env.DATABASE_URL;
  if (url) {
    say('database: the server at DATABASE_URL');
    return { url, stop: async () => {} };
  }
  const folder = chooseClusterFolder(getDataFolder());
  const cluster = await PostgresCluster.start({ folder });
  say(`database: own PostgreSQL on loopback, data in ${folder}`);
  return { url: cluster.url, stop: () => cluster.stop() };
}

/** Where clusters are kept whose data folder is closed to the database's user: one for each checkout. */
const SYSTEM_FOLDER = '/var/lib/cobweb';

/**
 * In the data folder; where the database's user may not enter it, in a folder of the system.
 * @param data - Data folder, absolute; exists. @returns Absolute path, which need not exist.
 */
export function chooseClusterFolder(data: string, systemFolder = SYSTEM_FOLDER): string {
  const inData = join(data, 'postgres');
  const user = findDatabaseUser();
  if (!user || existsSync(join(inData, 'data', 'PG_VERSION')) || canUseFolder(data, user)) return inData;
  const key = createHash('sha256').update(data).digest('hex').slice(0, 12);
  const own = join(systemFolder, key);
  makeOpenFolder(own);
  // A start of an older version may have left them closed.
  for (const folder of [systemFolder, own]) chmodSync(folder, 0o755);
  return join(own, 'postgres');
}
