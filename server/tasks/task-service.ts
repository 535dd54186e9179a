import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { type ITask, Task } from '../entities/entities.ts';
import { isId } from '../services/project-service.ts';
import { ServiceError } from '../services/service-error.ts';
import { countFrames, endTask, readPartMade, readResults, type TaskFrames } from './task-sql.ts';

/** A task as it is listed. */
export interface TaskSummary {
  id: string;
  /** Null of what is of no character. */
  characterId: string | null;
  characterName: string | null;
  kind: ITask['kind'];
  title: string;
  isAutomatic: boolean;
  revision: number;
  state: ITask['state'];
  /** Why it failed. */
  error: string | null;
  parts: number;
  partsDone: number;
  /** Frames that are done, and all of them. */
  done: number;
  total: number;
  createdAt: string;
  startedAt: string | null;
  finishedAt: string | null;
}

/** Tasks that are listed, the newest first. */
const MOST_LISTED = 200;
/** Long work: listed, read, cancelled. It is ordered by `TaskOrders`; workers do it, see `TaskWorker`. */
export class TaskService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  /** What a task asks for, and what its parts have found so far. */
  async readFound<Request, Result>(id: string): Promise<{ request: Request; results: Result[] }> {
    await this.find(id);
    const task = await this.#em.findOneOrFail(
      Task,
      { id },
      { populate: ['request', 'result'], refresh: true },
    );
    const results = task.finishedAt ? (task.result?.get() ?? []) : await readResults(this.#em, id);
    return { request: task.request.get() as Request, results: results as Result[] };
  }

  /** What a part of a trial measured, see `packTrial`; null while it is not done. @throws {ServiceError} 404 when it has no such part, or has ended. */
  async readMeasured(
    id: string,
    index: number,
  ): Promise<{ measured: Uint8Array; machine: Uint8Array } | null> {
    const { kind } = await this.find(id);
    const part = kind === 'trial' ? await readPartMade(this.#em, { taskId: id, index }) : null;
    if (!part)
      throw new ServiceError(404, 'There is no such part. When a trial has ended, it is read as a whole.');
    const { measured, machine } = part;
    return measured && machine ? { measured, machine } : null;
  }

  async find(id: string): Promise<TaskSummary> {
    const task = isId(id)
      ? await this.#em.findOne(Task, { id }, { populate: ['character'], refresh: true })
      : null;
    if (!task) throw new ServiceError(404, 'There is no such task. Those that ended long ago are forgotten.');
    return summarise(task, (await countFrames(this.#em, [id])).get(id));
  }

  /** The newest first. @param characterId - Of this one only. */
  async list(characterId?: string): Promise<TaskSummary[]> {
    const tasks = await this.#em.find(
      Task,
      characterId
        ? { character: { deletedAt: null, id: characterId } }
        : { $or: [{ character: null }, { character: { deletedAt: null } }] },
      { populate: ['character'], orderBy: { createdAt: 'desc' }, limit: MOST_LISTED, refresh: true },
    );
    const frames = await countFrames(
      this.#em,
      tasks.flatMap(({ id, finishedAt }) => (finishedAt ? [] : [id])),
    );
    return tasks.map((task) => summarise(task, frames.get(task.id)));
  }

  /** @throws {ServiceError} 409 when it has ended already. */
  async cancel(id: string): Promise<TaskSummary> {
    const task = await this.find(id);
    if (!(await this.#em.transactional((em) => endTask(em, id, 'cancelled'))))
      throw new ServiceError(409, `This task has ended already: it is ${task.state}.`);
    return this.find(id);
  }
}

function summarise(task: ITask, frames: TaskFrames | undefined): TaskSummary {
  const character = task.character as unknown as { id: string; name: string } | null;
  return {
    id: task.id,
    characterId: character?.id ?? null,
    characterName: character?.name ?? null,
    kind: task.kind,
    title: task.title,
    isAutomatic: task.isAutomatic,
    revision: task.revision,
    state: task.state,
    error: task.error ?? null,
    parts: task.parts,
    partsDone: task.partsDone,
    done: frames?.done ?? 0,
    total: frames?.total ?? 0,
    createdAt: task.createdAt.toISOString(),
    startedAt: task.startedAt?.toISOString() ?? null,
    finishedAt: task.finishedAt?.toISOString() ?? null,
  };
}
