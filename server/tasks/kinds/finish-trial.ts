import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { judgeRows, packTrial, resolveAllLimits, unpackTrial } from '../../../core/trials/index.ts';
import { Task, Trial, type TrialRequest } from '../../entities/entities.ts';
import { readSnapshot, readSnapshotDocument } from '../snapshot.ts';
import { readParts } from '../task-sql.ts';

/** Makes one trial of the parts of a task, all of which are done. Within the transaction that ends it. */
export async function finishTrial(em: SqlEntityManager, taskId: string): Promise<void> {
  const parts = await readParts(em, taskId);
  const cases = parts.flatMap(({ measured, machine }) => unpackTrial(measured!, machine!));
  const task = await em.findOneOrFail(Task, { id: taskId }, { populate: ['request', 'hashes'] });
  const limits = resolveAllLimits(await readSnapshotDocument(em, await readSnapshot(em, task.snapshotHash)));
  const { title, isAutomatic, revision, motionHash, snapshotHash, startedAt } = task;
  const now = new Date();
  em.create(Trial, {
    id: taskId,
    character: task.character.id,
    title,
    isAutomatic,
    revision,
    motionHash,
    snapshotHash,
    hashes: task.hashes.get()!,
    cases: (task.request.get() as TrialRequest).cases,
    caseCount: cases.length,
    brokenCount: cases.filter((rows) => judgeRows(rows, limits).length > 0).length,
    measured: Buffer.from(packTrial(cases, 'measured')),
    machine: Buffer.from(packTrial(cases, 'machine')),
    seconds: startedAt ? (now.getTime() - startedAt.getTime()) / 1000 : 0,
    createdAt: now,
  });
  await em.flush();
}
