import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { createOrm, migrate } from '../../server/database/orm.ts';
import { TaskWorker } from '../../server/tasks/task-worker.ts';
import type { Command } from '../command.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb worker [--database URL] [--threads N]

Does long work (trials) that was ordered in an application, from any machine that reaches its database. Any number
of workers share it; one that dies loses nothing. Ctrl-C ends it, and another one takes up what it was at.

  --database  the application's database, as postgres://user@host:5432/name; default DATABASE_URL
  --threads   parts of tasks at a time, default one for each core

The same trial on any worker gives the same bytes. Every worker must be of the same version of Cobweb.`;

export const command: Command = {
  summary: 'share the long work of an application',
  usage: USAGE,
  async run(args) {
    const { values } = parseArgs({
      args,
      options: { database: { type: 'string' }, threads: { type: 'string' } },
    });
    const databaseUrl = values.database ?? process.env.DATABASE_URL;
    if (!databaseUrl)
      throw new UsageError(
        'name the database with --database, or in DATABASE_URL. See ./cobweb worker --help.',
      );
    const threads = Number(values.threads ?? availableParallelism());
    if (!Number.isInteger(threads) || threads < 1 || threads > 256)
      throw new UsageError(`--threads ${values.threads}: it is a number from 1 to 256.`);
    await prepare(databaseUrl);
    let lose = (_reason: Error): void => {};
    const ended = new Promise<void>((resolve, reject) => {
      lose = reject;
      for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
    });
    const worker = await TaskWorker.start({
      databaseUrl,
      threads,
      say: console.log,
      onLost: () => lose(new UsageError('the database is gone. Start the worker again when it is back.')),
    });
    console.log(`worker: ${threads} ${threads === 1 ? 'thread' : 'threads'}, waiting for tasks`);
    try {
      await ended;
      console.log('\nstopping');
      return 0;
    } finally {
      await worker.close().catch(() => {});
    }
  },
};

/** @throws {UsageError} When the database cannot be reached. */
async function prepare(databaseUrl: string): Promise<void> {
  try {
    const orm = await createOrm(databaseUrl);
    await migrate(orm).finally(() => orm.close());
  } catch (error) {
    throw new UsageError(`the database does not answer (${(error as Error).message.split('\n')[0]}).`);
  }
}
