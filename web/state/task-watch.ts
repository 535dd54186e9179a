import { type TaskEntry, taskSchema, tasksSchema } from '../wire/trials.ts';
import { Store } from './store.ts';

export interface TaskList {
  /** The newest first. */
  tasks: readonly TaskEntry[];
  /** Whether the list is known. */
  isListed: boolean;
  /** Whether the server tells of changes now. */
  isConnected: boolean;
}

/** What runs and what ran on the server, as it tells of it. Opened by whoever listens first. */
export class TaskWatch {
  readonly store = new Store<TaskList>({ tasks: [], isListed: false, isConnected: false });
  #source: EventSource | null = null;

  /** Begins to listen, once. */
  open(): void {
    if (this.#source) return;
    const source = new EventSource('/api/tasks/events');
    this.#source = source;
    source.addEventListener('open', () => this.store.set({ isConnected: true }));
    // It connects again by itself, and is told the whole list then.
    source.addEventListener('error', () => this.store.set({ isConnected: false }));
    source.addEventListener('tasks', ({ data }) => {
      const { tasks } = tasksSchema.validateSync(JSON.parse(data as string), { strict: true });
      this.store.set({ tasks, isListed: true });
    });
    source.addEventListener('task', ({ data }) =>
      this.put(taskSchema.validateSync(JSON.parse(data as string), { strict: true })),
    );
  }

  /** Takes a task over as it is now. */
  put(task: TaskEntry): void {
    const { tasks } = this.store.state;
    const isKnown = tasks.some(({ id }) => id === task.id);
    this.store.set({
      tasks: isKnown ? tasks.map((each) => (each.id === task.id ? task : each)) : [task, ...tasks],
    });
  }

  close(): void {
    this.#source?.close();
    this.#source = null;
  }
}

export function isOpen({ state }: Pick<TaskEntry, 'state'>): boolean {
  return state === 'queued' || state === 'running';
}

/** Seconds until a running task is done, if it goes on as it did; null before that can be told. @param now - ms since 1970. */
export function tellLeft({ startedAt, done, total, state }: TaskEntry, now = Date.now()): number | null {
  if (state !== 'running' || !startedAt || done < LEAST_SHARE * total) return null;
  return ((now - Date.parse(startedAt)) / 1000) * (total / done - 1);
}

/** A smaller share tells nothing of the whole. */
const LEAST_SHARE = 0.03;
