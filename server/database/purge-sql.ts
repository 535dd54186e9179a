import type { SqlEntityManager } from '@mikro-orm/postgresql';

/** Tasks that ended are listed for so long. Trials are kept until somebody deletes them. */
const TASK_DAYS = 30;

/** Hashes that something refers to. */
const USED = `
  select array_hash as hash from authored_record where array_hash is not null
  union select packed_hash from "character" union select thumbnail_hash from "character"
  union select shipped_hash from "character" where shipped_hash is not null
  union select file ->> 'hash' from "character", jsonb_array_elements(files) as file
  union select record ->> 'arrayHash' from character_version, jsonb_array_elements(records) as record
    where record ->> 'arrayHash' is not null
  union select jsonb_array_elements_text(hashes) from task where state in ('queued', 'running')
  union select jsonb_array_elements_text(hashes) from trial`;

function run<T>(em: SqlEntityManager, sql: string, parameters: unknown[] = []): Promise<T> {
  return em.getConnection().execute(sql, parameters, 'all', em.getTransactionContext()) as Promise<T>;
}

/** Marks blobs that nothing refers to, and takes the mark off those that something does again. */
export async function markUnusedBlobs(em: SqlEntityManager): Promise<void> {
  await run(em, `update blob set unused_since = null where unused_since is not null and hash in (${USED})`);
  await run(
    em,
    `update blob set unused_since = now() where unused_since is null and hash not in (${USED})
      and created_at < now() - interval '1 minute'`,
  );
}

/** Deletes blobs that have been marked for some time. @returns How many, and their size. */
export async function deleteUnusedBlobs(
  em: SqlEntityManager,
  minutes: number,
): Promise<{ blobs: number; bytes: number }> {
  const deleted = await run<{ size: number }[]>(
    em,
    `delete from blob where unused_since <= now() - ? * interval '1 minute' and hash not in (${USED}) returning size`,
    [minutes],
  );
  return { blobs: deleted.length, bytes: deleted.reduce((sum, { size }) => sum + size, 0) };
}

/** Deletes records and characters that were deleted for some time, characters of deleted projects with them. */
export async function deleteGone(
  em: SqlEntityManager,
  recordDays: number,
  characterDays: number,
): Promise<{ records: number; characters: number }> {
  const records = await run<unknown[]>(
    em,
    `delete from authored_record where data is null and edited_at <= now() - ? * interval '1 day' returning key`,
    [recordDays],
  );
  await run(em, `delete from task where finished_at <= now() - interval '${TASK_DAYS} days'`);
  const characters = await run<unknown[]>(
    em,
    `delete from "character" where deleted_at <= now() - ? * interval '1 day' returning id`,
    [characterDays],
  );
  const inProjects = await run<unknown[]>(
    em,
    `delete from "character" where project_id in
      (select id from project where deleted_at <= now() - ? * interval '1 day') returning id`,
    [characterDays],
  );
  await run(em, `delete from project where deleted_at <= now() - ? * interval '1 day'`, [characterDays]);
  return { records: records.length, characters: characters.length + inProjects.length };
}
