import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { proposePoints } from '../../core/search/index.ts';
import { type SearchRequest, Task } from '../entities/entities.ts';
import { finishTrial } from './finish-trial.ts';
import type { PartKey } from './task-queue.ts';
import { endTask, insertParts, lockFinished, readPartTotal, readResults } from './task-sql.ts';

/** What became of a task whose parts are all done. */
export type GoneOn = { isDone: boolean; parts: PartKey[] };

/**
 * Goes on with a task when every part that it has is done: a trial is made of them; a search gets the next ones, until it has enough.
 * @returns Null when some are not done, or somebody else goes on with it.
 */
export async function goOn(manager: SqlEntityManager, taskId: string): Promise<GoneOn | null> {
  return manager.transactional(async (em) => {
    if (!(await lockFinished(em, taskId))) return null;
    const task = await em.findOneOrFail(Task, { id: taskId }, { populate: ['request'] });
    if (task.kind === 'trial') {
      await finishTrial(em, taskId);
      return { isDone: true, parts: [] };
    }
    const { plan } = task.request.get() as SearchRequest;
    const tried = await readResults(em, taskId);
    const points = proposePoints(plan, tried);
    if (points.length === 0) {
      await endTask(em, taskId, 'done');
      return { isDone: true, parts: [] };
    }
    await insertParts(
      em,
      taskId,
      toParts(points, tried.length, await readPartTotal(em, taskId)),
      tried.length,
    );
    return {
      isDone: false,
      parts: points.map((_, k): PartKey => ({ taskId, index: tried.length + k })),
    };
  });
}

/** Parts that try points. @param first - How many were tried before. @param total - Frames of each. */
export function toParts(
  points: readonly number[][],
  first: number,
  total: number,
): { name: string; total: number; request: number[] }[] {
  return points.map((point, k) => ({ name: `candidate ${first + k + 1}`, total, request: point }));
}
