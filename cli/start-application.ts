import { createServer, type Server } from 'node:http';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { findFreePort } from '../server/database/cluster.ts';
import { createOrm, migrate } from '../server/database/orm.ts';
import { wrapHandler } from '../server/http/wrap-handler.ts';
import { IntakePool } from '../server/intake/intake-pool.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { purgeRegularly } from '../server/purge-regularly.ts';
import { seedDemo } from '../server/seed-demo.ts';
import { SetupError } from '../server/setup-error.ts';
import { orderFirstCalibration } from '../server/tasks/order-calibration.ts';
import { startWorkerProcess } from '../server/tasks/start-worker-process.ts';
import { TaskQueue } from '../server/tasks/task-queue.ts';
import { buildWhenChanged } from './build.ts';
import { type DatabaseHandle, getDataFolder, openDatabase } from './environment.ts';

export interface Application {
  address: string;
  stop(): Promise<void>;
}

export interface StartOptions {
  port: number;
  /** Take another port when this one is taken. */
  mayMove: boolean;
  say(line: string): void;
  /** Threads of the worker that is started with it; 0: none. Default: all processors but one. */
  workerThreads?: number;
  /** Has the worker measure what work costs on this machine, when that is not known. */
  calibratesFirst?: boolean;
  /** A database that is open already; the data folder's otherwise. */
  database?: DatabaseHandle;
}

/** Database, migrations, demo data, pages, server: everything up, in that order, each step said. */
export async function startApplication(options: StartOptions): Promise<Application> {
  const { say } = options;
  buildWhenChanged(say);
  const database = options.database ?? (await openDatabase(say));
  try {
    await prepareDatabase(database.url, say);
    const server = await listen(database.url, options);
    const stopPurging = purgeRegularly(database.url, say);
    const threads = options.workerThreads ?? Math.max(1, availableParallelism() - 1);
    const worker = threads > 0 ? startWorkerProcess(database.url, threads, say) : null;
    if (worker && options.calibratesFirst) await calibrateFirst(database.url);
    const { port } = server.address() as { port: number };
    return {
      address: `http://127.0.0.1:${port}`,
      async stop() {
        server.closeAllConnections();
        const stopping = worker?.stop();
        await new Promise((resolve) => server.close(resolve));
        await stopPages?.();
        await stopPurging();
        await stopping;
        if (!options.database) await database.stop();
      },
    };
  } catch (error) {
    if (!options.database) await database.stop();
    throw error;
  }
}

let stopPages: (() => Promise<void>) | null = null;

async function prepareDatabase(url: string, say: (line: string) => void): Promise<void> {
  const orm = await createOrm(url);
  const pool = new IntakePool();
  try {
    await migrate(orm);
    say('database: schema up to date');
    const isNew = await seedDemo(orm, pool, join(getDataFolder(), 'cache'));
    if (isNew) say('demo: the project Saltreed was put in');
  } finally {
    await pool.close();
    await orm.close();
  }
}

async function calibrateFirst(url: string): Promise<void> {
  const orm = await createOrm(url);
  const queue = await TaskQueue.open(url);
  try {
    await orderFirstCalibration(orm.em.fork(), queue);
  } finally {
    await queue.close();
    await orm.close();
  }
}

async function listen(databaseUrl: string, { port, mayMove, say }: StartOptions): Promise<Server> {
  // The pages are a bundle of their own and open their own connections.
  process.env.COBWEB_DATABASE_URL = databaseUrl;
  process.env.COBWEB_ROOT = findProjectRoot();
  process.env.ASTRO_NODE_AUTOSTART = 'disabled';
  const entry = pathToFileURL(join(findProjectRoot(), 'dist', 'server', 'entry.mjs')).href;
  const pages = (await import(entry)) as { handler: Parameters<typeof wrapHandler>[0] };
  const server = createServer(wrapHandler(pages.handler));
  const open = (at: number): Promise<void> =>
    new Promise((resolve, reject) => {
      server.once('error', reject);
      server.listen(at, '127.0.0.1', () => {
        server.off('error', reject);
        resolve();
      });
    });
  try {
    await open(port);
  } catch (error) {
    const isTaken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
    if (!isTaken) throw error;
    if (!mayMove) throw new SetupError(`Port ${port} is taken. Choose another with --port.`);
    say(`port ${port} is taken`);
    await open(await findFreePort());
  }
  // The first request would otherwise wait for the database connection.
  const { port: actual } = server.address() as { port: number };
  await fetch(`http://127.0.0.1:${actual}/api/projects`).catch(() => {});
  const global = globalThis as { cobwebClose?: () => Promise<void> };
  stopPages = async () => global.cobwebClose?.();
  return server;
}
