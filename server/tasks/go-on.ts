import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { Task } from '../entities/entities.ts';
import { getKind } from './kinds/index.ts';
import type { PartKey } from './task-queue.ts';
import { countParts, endTask, expectParts, insertParts, lockFinished } from './task-sql.ts';

/** What became of a task whose parts are all done. */
export type GoneOn = { isDone: boolean; parts: PartKey[] };

/**
 * Goes on with a task when every part that it has is done: it gets the next ones, until it has enough.
 * @returns Null when some are not done, or somebody else goes on with it.
 */
export async function goOn(manager: SqlEntityManager, taskId: string): Promise<GoneOn | null> {
  return manager.transactional(async (em) => {
    if (!(await lockFinished(em, taskId))) return null;
    const task = await em.findOneOrFail(Task, { id: taskId }, { populate: ['request'] });
    const { parts, expected } = await getKind(task.kind).goOn(em, taskId, task.request.get());
    const before = await countParts(em, taskId);
    const isDone = parts.length === 0;
    if (isDone || expected !== undefined)
      await expectParts(em, taskId, isDone ? before : Math.max(expected!, before + parts.length));
    if (isDone) await endTask(em, taskId, 'done');
    else await insertParts(em, taskId, parts, before);
    return { isDone, parts: parts.map((_, k): PartKey => ({ taskId, index: before + k })) };
  });
}
