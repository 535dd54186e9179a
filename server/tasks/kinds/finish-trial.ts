import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { unpackTrial } from '../../../core/trials/index.ts';
import { Task, type TrialRequest } from '../../entities/entities.ts';
import { readCharacterPricing } from '../../services/target-service.ts';
import { keepTrial } from '../../trials/keep-trial.ts';
import { readSnapshot, readSnapshotDocument } from '../snapshot.ts';
import { readParts } from '../task-sql.ts';

/** Makes one trial of the parts of a task, all of which are done. Within the transaction that ends it. */
export async function finishTrial(em: SqlEntityManager, taskId: string): Promise<void> {
  const parts = await readParts(em, taskId);
  const task = await em.findOneOrFail(Task, { id: taskId }, { populate: ['request', 'hashes'] });
  const { title, isAutomatic, revision, motionHash, startedAt } = task;
  const hash = task.snapshotHash!;
  const pricing = await readCharacterPricing(em, task.character!.id);
  await keepTrial(em, {
    id: taskId,
    characterId: task.character!.id,
    title,
    isAutomatic,
    snapshot: { hash, hashes: task.hashes.get()!, revision, motionHash },
    document: await readSnapshotDocument(em, await readSnapshot(em, hash)),
    cases: (task.request.get() as TrialRequest).cases,
    rows: parts.flatMap(({ measured, machine }) => unpackTrial(measured!, machine!, pricing)),
    seconds: startedAt ? (Date.now() - startedAt.getTime()) / 1000 : 0,
  });
}
