import { randomUUID } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { Task } from '../entities/entities.ts';
import { readCostProfile } from '../services/cost-service.ts';
import { CALIBRATION_TOTAL } from './kinds/calibration-kind.ts';
import type { TaskQueue } from './task-queue.ts';
import { TaskService, type TaskSummary } from './task-service.ts';
import { endTask, insertParts } from './task-sql.ts';

/** Orders measuring what work costs on this machine; one that is under way already is what is told. */
export async function orderCalibration(
  em: SqlEntityManager,
  queue: TaskQueue,
  isAutomatic = false,
): Promise<TaskSummary> {
  const open = await em.findOne(Task, { kind: 'calibration', state: { $in: ['queued', 'running'] } });
  if (open) return new TaskService(em).find(open.id);
  const id = randomUUID();
  await em.transactional(async (inner) => {
    inner.create(Task, {
      id,
      character: null,
      kind: 'calibration',
      title: 'what work costs on this machine',
      isAutomatic,
      request: {},
      revision: 0,
      motionHash: '',
      snapshotHash: null,
      hashes: [],
      state: 'queued',
      result: null,
      parts: 1,
      createdAt: new Date(),
    });
    await inner.flush();
    await insertParts(inner, id, [{ name: 'calibration', total: CALIBRATION_TOTAL }]);
  });
  await queue.send([{ taskId: id, index: 0 }]);
  return new TaskService(em).find(id);
}

/** The same when nothing is known of this machine yet, or what is known counts other work. */
export async function orderFirstCalibration(em: SqlEntityManager, queue: TaskQueue): Promise<void> {
  if ((await readCostProfile(em)).source === 'reference') await orderCalibration(em, queue, true);
}

/** Lets what somebody ordered go first: a calibration that began by itself begins anew behind it. */
export async function postponeCalibration(em: SqlEntityManager, queue: TaskQueue): Promise<void> {
  const open = await em.findOne(Task, {
    kind: 'calibration',
    isAutomatic: true,
    state: { $in: ['queued', 'running'] },
  });
  if (!open) return;
  await em.transactional((inner) => endTask(inner, open.id, 'cancelled'));
  await orderCalibration(em.fork(), queue, true);
}
