import { randomInt } from 'node:crypto';
import { Client } from 'pg';

/** Class of the advisory locks that say which workers live. Any number that no other program locks on this database. */
const WORKER_LOCKS = 7_304_222;

/**
 * Says that a worker lives: a lock of its own connection, which the database lets go the moment the process is gone, however it went. No
 * heartbeat, and nothing to clean up.
 */
export class WorkerLock {
  readonly worker: number;
  readonly client: Client;

  private constructor(worker: number, client: Client) {
    this.worker = worker;
    this.client = client;
  }

  static async take(databaseUrl: string): Promise<WorkerLock> {
    const client = new Client({ connectionString: databaseUrl, application_name: 'cobweb worker' });
    await client.connect();
    for (;;) {
      const worker = randomInt(1, 2 ** 31 - 1);
      const { rows } = await client.query<{ taken: boolean }>(
        'select pg_try_advisory_lock($1, $2) as taken',
        [WORKER_LOCKS, worker],
      );
      if (rows[0]?.taken) return new WorkerLock(worker, client);
    }
  }

  release(): Promise<void> {
    return this.client.end();
  }
}

/** SQL that is true for the number of a worker that is gone. */
export const IS_GONE = (column: string): string =>
  `not exists (select 1 from pg_locks where locktype = 'advisory' and classid = ${WORKER_LOCKS} and objid = ${column}::oid
    and objsubid = 2 and database = (select oid from pg_database where datname = current_database()))`;
