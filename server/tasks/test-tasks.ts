import type { MikroORM } from '@mikro-orm/postgresql';
import type { AuthoredDocument } from '../../core/document/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { getGltfIo, type SourceFile, writeCharacter } from '../../formats/index.ts';
import { IntakePool } from '../intake/intake-pool.ts';
import { AuthoredService, toChanges } from '../services/authored-service.ts';
import { CharacterService } from '../services/character-service.ts';
import { ProjectService } from '../services/project-service.ts';
import type { ServiceError } from '../services/service-error.ts';
import { createTestDatabase } from '../test-database.ts';
import { TaskOrders } from './task-orders.ts';
import { TaskQueue } from './task-queue.ts';
import { TaskService, type TaskSummary } from './task-service.ts';
import { TaskWorker } from './task-worker.ts';

/** A database of its own with a character, on which tasks can be ordered and done. */
export class TaskStage {
  readonly orm: MikroORM;
  readonly url: string;
  readonly characterId: string;
  readonly files: readonly SourceFile[];
  readonly #pool: IntakePool;
  readonly queue: TaskQueue;
  readonly #workers: { close(): Promise<void> }[] = [];

  private constructor(fields: {
    orm: MikroORM;
    url: string;
    characterId: string;
    files: readonly SourceFile[];
    pool: IntakePool;
    queue: TaskQueue;
  }) {
    this.orm = fields.orm;
    this.url = fields.url;
    this.characterId = fields.characterId;
    this.files = fields.files;
    this.#pool = fields.pool;
    this.queue = fields.queue;
  }

  /** @param document - What is authored on the ball and its sheet. */
  static async open(document: AuthoredDocument): Promise<TaskStage> {
    const { orm, url } = await createTestDatabase();
    const pool = new IntakePool();
    const queue = await TaskQueue.open(url);
    const { id } = await new ProjectService(orm.em.fork()).create('Test');
    const bytes = await (await getGltfIo()).writeBinary(writeCharacter(createScene({}).setup.base));
    const files = [{ name: 'sheet.glb', bytes }];
    const characterId = (await new CharacterService(orm.em.fork(), pool).bringIn(id, files)).id;
    await new AuthoredService(orm.em.fork()).write(characterId, toChanges(document));
    return new TaskStage({ orm, url, characterId, files, pool, queue });
  }

  get tasks(): TaskService {
    return new TaskService(this.orm.em.fork());
  }

  get characters(): CharacterService {
    return new CharacterService(this.orm.em.fork(), this.#pool);
  }

  get orders(): TaskOrders {
    return new TaskOrders(this.orm.em.fork(), this.#pool, this.queue);
  }

  async startWorker(threads = 1): Promise<TaskWorker> {
    const worker = await TaskWorker.start({
      databaseUrl: this.url,
      threads,
      say: () => {},
      onLost: () => {},
    });
    this.#workers.push(worker);
    return worker;
  }

  async stopWorkers(): Promise<void> {
    for (const worker of this.#workers.splice(0)) await worker.close();
  }

  async wait(id: string, until: (task: TaskSummary) => boolean = isEnded): Promise<TaskSummary> {
    for (;;) {
      const task = await this.tasks.find(id);
      if (until(task)) return task;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  async close(): Promise<void> {
    await this.stopWorkers();
    await this.queue.close();
    await this.#pool.close();
    await this.orm.close();
  }
}

export function isEnded({ state }: TaskSummary): boolean {
  return state !== 'queued' && state !== 'running';
}

/** What somebody is refused with. @throws {Error} When it went through. */
export function refusalOf(action: Promise<unknown>): Promise<ServiceError> {
  return action.then(
    () => {
      throw new Error('it went through');
    },
    (error: ServiceError) => error,
  );
}
