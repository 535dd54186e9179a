import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { PartKey } from './task-queue.ts';
import { IS_GONE } from './worker-lock.ts';

/** Told when anything of a task changes; the payload is its id. */
export const TASK_CHANNEL = 'cobweb_task';
/** Told when a task is to end at once; the payload is its id. */
export const CANCEL_CHANNEL = 'cobweb_cancel';

const HAS_NO_OPEN_PART = `not exists (
  select 1 from task_part where task_id = task.id and task_part.state in ('queued', 'running'))`;

export interface TaskFrames {
  done: number;
  total: number;
}

export interface NewPart {
  name: string;
  /** Frames that it has. */
  total: number;
  /** What it is to do, where the task does not say it. */
  request?: unknown;
}

/** Puts parts beside a task, in their order. @param first - Index of the first one. */
export async function insertParts(
  em: SqlEntityManager,
  taskId: string,
  parts: readonly NewPart[],
  first = 0,
): Promise<void> {
  await run(
    em,
    `insert into task_part (task_id, index, name, state, queued_at, total, request)
       select $1, $3::int + ordinality - 1, part ->> 'name', 'queued', now(), (part ->> 'total')::int, part -> 'request'
       from jsonb_array_elements($2::jsonb) with ordinality as parts (part, ordinality)`,
    [taskId, JSON.stringify(parts.map((part) => ({ ...part, name: part.name.slice(0, 400) }))), first],
  );
  await tell(em, TASK_CHANNEL, taskId);
}

/** How many frames of tasks are done, of how many, parts included that are not there yet; nothing of those whose parts are gone. */
export async function countFrames(
  em: SqlEntityManager,
  taskIds: readonly string[],
): Promise<Map<string, TaskFrames>> {
  const rows = await run<TaskFrames & { id: string }>(
    em,
    `select task_id as id, sum(least(done, total))::int as done, round(avg(total) * max(parts))::int as total
       from task_part join task on task.id = task_id
       where task_id in (select value::uuid from jsonb_array_elements_text($1::jsonb)) group by task_id`,
    [JSON.stringify(taskIds)],
  );
  return new Map(rows.map(({ id, done, total }) => [id, { done, total }]));
}

/** Takes a part that waits. @returns False when somebody else has it, or it is not wanted any more. */
export async function claimPart(
  manager: SqlEntityManager,
  { taskId, index }: PartKey,
  worker: number,
): Promise<boolean> {
  return manager.transactional(async (em) => {
    if (!(await lockOpen(em, taskId))) return false;
    const rows = await run(
      em,
      `update task_part set state = 'running', worker = $3, done = 0
         where task_id = $1 and index = $2 and state = 'queued' returning index`,
      [taskId, index, worker],
    );
    if (rows.length === 0) return false;
    await run(
      em,
      `update task set state = 'running', started_at = coalesce(started_at, now()) where id = $1`,
      [taskId],
    );
    await tell(em, TASK_CHANNEL, taskId);
    return true;
  });
}

/** The part that is next: of what was ordered before what began by itself, in the order of orders. Null when none waits. */
export async function findWaiting(em: SqlEntityManager): Promise<PartKey | null> {
  const [part] = await run<PartKey>(
    em,
    `select task_id as "taskId", index from task_part join task on task.id = task_id
       where task_part.state = 'queued' and task.state in ('queued', 'running')
       order by is_automatic, created_at, index limit 1`,
  );
  return part ?? null;
}

/** Says how far a part is. */
export async function notePart(
  em: SqlEntityManager,
  { taskId, index }: PartKey,
  done: number,
): Promise<void> {
  await run(
    em,
    `update task_part set done = $3 where task_id = $1 and index = $2 and state = 'running' and done < $3`,
    [taskId, index, done],
  );
  await tell(em, TASK_CHANNEL, taskId);
}

/** What a part is to do, where its task does not say it, and how many frames it has. */
export async function readPart(
  em: SqlEntityManager,
  { taskId, index }: PartKey,
): Promise<{ request: unknown; total: number }> {
  const rows = await run<{ request: unknown; total: number }>(
    em,
    'select request, total from task_part where task_id = $1 and index = $2',
    [taskId, index],
  );
  return rows[0] ?? { request: null, total: 0 };
}

/** What a part made: bytes, gone with the part; and a result that its task keeps. */
export interface PartMade<Result = unknown> {
  measured?: Uint8Array | null;
  machine?: Uint8Array | null;
  result?: Result | null;
}

/** What one part made so far; null when there is no such part. */
export async function readPartMade(
  em: SqlEntityManager,
  { taskId, index }: PartKey,
): Promise<PartMade | null> {
  if (!Number.isInteger(index) || index < 0 || index > MOST_INDEX) return null;
  const [row] = await run<PartMade>(
    em,
    'select measured, machine, result from task_part where task_id = $1 and index = $2',
    [taskId, index],
  );
  return row ?? null;
}

/** The database counts no further. */
const MOST_INDEX = 2 ** 31 - 1;

/** A part as it is stored, with what it is to do. */
export interface PartRow<Part, Result> extends PartMade<Result> {
  request: Part;
}

/** Keeps what a part made, unless it is another worker's by now. */
export async function storePart(
  manager: SqlEntityManager,
  { taskId, index }: PartKey,
  worker: number,
  { measured = null, machine = null, result = null }: PartMade,
): Promise<void> {
  await manager.transactional(async (em) => {
    if (!(await lockOpen(em, taskId))) return;
    const rows = await run(
      em,
      `update task_part set state = 'done', done = total, measured = $4, machine = $5, result = $6
         where task_id = $1 and index = $2 and worker = $3 and state = 'running' returning index`,
      [
        taskId,
        index,
        worker,
        measured && Buffer.from(measured),
        machine && Buffer.from(machine),
        result && JSON.stringify(result),
      ],
    );
    if (rows.length === 1)
      await run(em, `update task set parts_done = parts_done + 1 where id = $1`, [taskId]);
    await tell(em, TASK_CHANNEL, taskId);
  });
}

/** Whether every part that a running task has is done, and nobody else puts them together. Within a transaction. */
export async function lockFinished(em: SqlEntityManager, taskId: string): Promise<boolean> {
  await run(em, 'select id from task where id = $1 for update', [taskId]);
  // By itself, once the lock is there: a statement sees what was when it began, not what whoever it waited for has done.
  const rows = await run(
    em,
    `select id from task where id = $1 and state = 'running' and ${HAS_NO_OPEN_PART}`,
    [taskId],
  );
  return rows.length === 1;
}

/** Parts of a task in their order. */
export async function readParts<Part, Result>(
  em: SqlEntityManager,
  taskId: string,
): Promise<PartRow<Part, Result>[]> {
  return run(
    em,
    'select request, result, measured, machine from task_part where task_id = $1 order by index',
    [taskId],
  );
}

/** The same, without the bytes that they made. */
export async function readSteps<Part, Result>(
  em: SqlEntityManager,
  taskId: string,
): Promise<{ request: Part; result: Result | null }[]> {
  return run(em, 'select request, result from task_part where task_id = $1 order by index', [taskId]);
}

/** How many parts a task has so far. */
export async function countParts(em: SqlEntityManager, taskId: string): Promise<number> {
  const [row] = await run<{ count: number }>(
    em,
    'select count(*)::int as count from task_part where task_id = $1',
    [taskId],
  );
  return row!.count;
}

/** Says how many parts a task will have, about; never fewer than it has. */
export async function expectParts(em: SqlEntityManager, taskId: string, count: number): Promise<void> {
  await run(em, 'update task set parts = $2 where id = $1', [taskId, count]);
}

/** Frames of a part of a task whose parts are all as long. */
export async function readPartTotal(em: SqlEntityManager, taskId: string): Promise<number> {
  const rows = await run<{ total: number }>(
    em,
    'select total from task_part where task_id = $1 order by index limit 1',
    [taskId],
  );
  return rows[0]?.total ?? 0;
}

/** What the parts of a task have found so far, in their order. */
export async function readResults<Result>(em: SqlEntityManager, taskId: string): Promise<Result[]> {
  const rows = await run<{ result: Result }>(
    em,
    'select result from task_part where task_id = $1 and result is not null order by index',
    [taskId],
  );
  return rows.map(({ result }) => result);
}

/** Ends a task that has not ended; its parts go. @returns Whether it had not. */
export async function endTask(
  em: SqlEntityManager,
  taskId: string,
  state: 'done' | 'failed' | 'cancelled',
  error: string | null = null,
): Promise<boolean> {
  const rows = await run(
    em,
    `update task set state = $2, error = $3, finished_at = now(),
         result = (select jsonb_agg(result order by index) from task_part where task_id = $1 and result is not null)
       where id = $1 and state in ('queued', 'running') returning id`,
    [taskId, state, error],
  );
  if (rows.length === 1) {
    await run(em, 'delete from task_part where task_id = $1', [taskId]);
    await tell(em, TASK_CHANNEL, taskId);
    if (state !== 'done') await tell(em, CANCEL_CHANNEL, taskId);
  }
  return rows.length === 1;
}

/** Puts back what workers that are gone were at. @returns The parts, to be handed out again. */
export async function freeOrphans(em: SqlEntityManager): Promise<PartKey[]> {
  const rows = await run<PartKey>(
    em,
    `update task_part set state = 'queued', worker = null, done = 0, queued_at = now()
       where state = 'running' and ${IS_GONE('worker')} returning task_id as "taskId", index`,
  );
  return rows;
}

/** Parts that have waited for so long that whoever was to have them is gone. They count as new then. */
export async function findForgotten(em: SqlEntityManager, seconds: number): Promise<PartKey[]> {
  const rows = await run<PartKey>(
    em,
    `update task_part set queued_at = now()
       where state = 'queued' and queued_at < now() - $1 * interval '1 second' returning task_id as "taskId", index`,
    [seconds],
  );
  return rows;
}

/** Tasks whose parts are all done but that nobody has gone on with: the worker that was at it is gone. */
export async function findUnfinished(em: SqlEntityManager): Promise<string[]> {
  const rows = await run<{ id: string }>(
    em,
    `select id from task where state = 'running' and ${HAS_NO_OPEN_PART}`,
  );
  return rows.map(({ id }) => id);
}

/** Of some tasks, those that are wanted no longer. */
export async function findEnded(em: SqlEntityManager, taskIds: readonly string[]): Promise<string[]> {
  const rows = await run<{ id: string }>(
    em,
    `select wanted.id from jsonb_array_elements_text($1::jsonb) as wanted (id)
       where not exists (select 1 from task where task.id = wanted.id::uuid and state in ('queued', 'running'))`,
    [JSON.stringify(taskIds)],
  );
  return rows.map(({ id }) => id);
}

/** Runs a statement in the transaction of an entity manager, if there is one. @returns What it returns. */
async function run<T>(em: SqlEntityManager, sql: string, values: readonly unknown[] = []): Promise<T[]> {
  // The connection's own marks are without numbers, in the order of the text.
  const parameters = [...sql.matchAll(/\$(\d+)/g)].map(([, n]) => values[Number(n) - 1]);
  const text = sql.replace(/\$\d+/g, '?');
  return em.getConnection().execute(text, parameters, 'all', em.getTransactionContext()) as Promise<T[]>;
}

/** Whoever changes a task and its parts waits for the others here, before it touches a part. @returns Whether it is still wanted. */
async function lockOpen(em: SqlEntityManager, taskId: string): Promise<boolean> {
  const rows = await run(
    em,
    `select id from task where id = $1 and state in ('queued', 'running') for update`,
    [taskId],
  );
  return rows.length === 1;
}

async function tell(em: SqlEntityManager, channel: string, taskId: string): Promise<void> {
  await run(em, 'select pg_notify($1, $2)', [channel, taskId]);
}
