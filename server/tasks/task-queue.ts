import PgBoss from 'pg-boss';

const QUEUE = 'task-part';
/** A worker asks for work so often, s. */
const POLL_SECONDS = 0.5;
/** Longer than any part may take: a worker that is gone is told by its lock, see `WorkerLock`, long before. */
const EXPIRE_SECONDS = 12 * 3600;

/** One part of a task, by its index. */
export interface PartKey {
  taskId: string;
  index: number;
}

/**
 * Wakes workers, whichever is free first: a job for each part that waits. What waits and who is at it is said by the rows of parts, so a
 * job that comes twice, or late, makes nothing twice.
 */
export class TaskQueue {
  readonly #boss: PgBoss;

  private constructor(boss: PgBoss) {
    this.#boss = boss;
  }

  /** @param isWorker - Tidies old jobs up as well. */
  static async open(databaseUrl: string, isWorker = false): Promise<TaskQueue> {
    const boss = new PgBoss({
      connectionString: databaseUrl,
      application_name: 'cobweb queue',
      max: isWorker ? 4 : 2,
      schedule: false,
      supervise: isWorker,
    });
    // A database that is away for a moment is asked again at the next poll.
    boss.on('error', () => {});
    await boss.start();
    await boss.createQueue(QUEUE);
    return new TaskQueue(boss);
  }

  /** Says that parts wait. */
  async send(parts: readonly PartKey[]): Promise<void> {
    if (parts.length === 0) return;
    await this.#boss.insert(
      parts.map((data) => ({
        name: QUEUE,
        data,
        retryLimit: 0,
        expireInSeconds: EXPIRE_SECONDS,
      })),
    );
  }

  /** Wakes so many at a time. */
  async work(slots: number, wake: () => Promise<void>): Promise<void> {
    for (let slot = 0; slot < slots; slot++)
      await this.#boss.work(QUEUE, { batchSize: 1, pollingIntervalSeconds: POLL_SECONDS }, wake);
  }

  /** Wakes nobody any more. */
  async close(): Promise<void> {
    await this.#boss.stop({ graceful: false, close: true, wait: true });
  }
}
