import type { TaskEntry } from '../wire/trials.ts';
import type { Ordering } from './ordering.ts';

export interface FoundResultsOptions<Found> {
  kind: TaskEntry['kind'];
  /** Of the state that this page was opened with. */
  openedRevision: number;
  read(taskId: string): Promise<Found>;
  /** @param isOfNow - False: it was ordered before this page was opened, and may be of an earlier state. */
  take(found: Found, isOfNow: boolean): void;
  fail(message: string): void;
}

/** Follows what the newest task of a kind has found so far: it is read whenever more of its parts are done. */
export class FoundResults<Found> {
  readonly #ordering: Ordering;
  readonly #options: FoundResultsOptions<Found>;
  /** The task whose parts were read, and how many. */
  #read = { taskId: '', parts: -1 };

  constructor(ordering: Ordering, options: FoundResultsOptions<Found>) {
    this.#ordering = ordering;
    this.#options = options;
    ordering.watch.store.subscribe(() => void this.#follow());
  }

  /** The newest of this character. */
  get task(): TaskEntry | null {
    return this.#ordering.findNewest(this.#options.kind);
  }

  /** @throws {Error} When it has ended. */
  async stop(): Promise<void> {
    if (this.task) await this.#ordering.cancel(this.task.id);
  }

  async #follow(): Promise<void> {
    const { task } = this;
    if (!task) return;
    const { openedRevision, read, take, fail } = this.#options;
    const { id: taskId, partsDone: parts } = task;
    if (this.#read.taskId === taskId && this.#read.parts === parts) {
      if (task.state === 'failed') fail(task.error ?? 'It failed.');
      return;
    }
    const isOfNow = this.#read.taskId === taskId || task.revision >= openedRevision;
    this.#read = { taskId, parts };
    try {
      const found = await read(taskId);
      // An answer that comes late knows less than the one that is asked for meanwhile.
      if (this.#read.taskId !== taskId || this.#read.parts !== parts) return;
      take(found, isOfNow);
    } catch (error) {
      fail((error as Error).message);
    }
  }
}
