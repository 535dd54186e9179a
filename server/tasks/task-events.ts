import { Client } from 'pg';
import { TASK_CHANNEL } from './task-sql.ts';

/** Changes of one task are told of at most so often. */
const TELL_EVERY_MS = 250;
const RECONNECT_MS = 1000;

type Listener = (taskId: string | null) => void;

/**
 * Tells which task has changed, of any process on the same database. One connection, whoever listens. It is opened anew when it breaks, and
 * null is told then: anything may have changed.
 */
export class TaskEvents {
  readonly #databaseUrl: string;
  readonly #listeners = new Set<Listener>();
  readonly #waiting = new Map<string, ReturnType<typeof setTimeout>>();
  #client: Client | null = null;
  #isClosed = false;

  constructor(databaseUrl: string) {
    this.#databaseUrl = databaseUrl;
  }

  /** @returns Ends it. */
  async subscribe(listener: Listener): Promise<() => void> {
    this.#listeners.add(listener);
    if (!this.#client) await this.#connect();
    return () => this.#listeners.delete(listener);
  }

  async close(): Promise<void> {
    this.#isClosed = true;
    this.#listeners.clear();
    for (const timer of this.#waiting.values()) clearTimeout(timer);
    await this.#client?.end().catch(() => {});
  }

  async #connect(): Promise<void> {
    const client = new Client({ connectionString: this.#databaseUrl, application_name: 'cobweb events' });
    this.#client = client;
    const reconnect = (): void => {
      if (this.#isClosed || this.#client !== client) return;
      this.#client = null;
      setTimeout(() => {
        if (this.#isClosed || this.#client || this.#listeners.size === 0) return;
        void this.#connect().then(() => this.#tell(null));
      }, RECONNECT_MS);
    };
    client.on('error', reconnect);
    client.on('end', reconnect);
    client.on('notification', ({ payload }) => this.#note(payload ?? ''));
    try {
      await client.connect();
      await client.query(`listen ${TASK_CHANNEL}`);
    } catch {
      reconnect();
    }
  }

  #note(taskId: string): void {
    if (this.#waiting.has(taskId)) return;
    const timer = setTimeout(() => {
      this.#waiting.delete(taskId);
      this.#tell(taskId);
    }, TELL_EVERY_MS);
    this.#waiting.set(taskId, timer);
  }

  #tell(taskId: string | null): void {
    for (const listener of this.#listeners) listener(taskId);
  }
}
