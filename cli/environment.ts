import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { canUseFolder, PostgresCluster } from '../server/database/cluster.ts';
import { findProjectRoot } from '../server/project-root.ts';

/** Folder with everything that the application keeps: COBWEB_DATA, or `.cobweb` in the project. */
export function getDataFolder(): string {
  const folder = process.env.COBWEB_DATA ?? join(findProjectRoot(), '.cobweb');
  mkdirSync(folder, { recursive: true });
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
  const folder = chooseClusterFolder();
  const cluster = await PostgresCluster.start({ folder });
  say(`database: own PostgreSQL on loopback, data in ${folder}`);
  return { url: cluster.url, stop: () => cluster.stop() };
}

/** In the data folder; where the database's user may not enter it, under /var/lib, one for each checkout. */
function chooseClusterFolder(): string {
  const data = getDataFolder();
  if (canUseFolder(data)) return join(data, 'postgres');
  const key = createHash('sha256').update(data).digest('hex').slice(0, 12);
  return join('/var/lib/cobweb', key, 'postgres');
}
