import { type Remote, wrap } from 'comlink';

/** A call whose worker was ended before it answered. */
export class Cancelled extends Error {
  override readonly name = 'Cancelled';
  constructor() {
    super('It was cancelled.');
  }
}

/**
 * A worker whose functions are called as if they were here, one way for all of them. It is started with the first call; ending
 * it ends all calls under way, and the next one starts another.
 */
export class WorkerCalls<Api extends object> {
  readonly #create: () => Worker;
  /** Told of each new worker, before the call that started it. */
  readonly #onStart: (remote: Remote<Api>) => void;
  #started: { worker: Worker; remote: Remote<Api> } | null = null;
  readonly #waiting = new Set<(error: Error) => void>();

  constructor(create: () => Worker, onStart: (remote: Remote<Api>) => void = () => {}) {
    this.#create = create;
    this.#onStart = onStart;
  }

  get isStarted(): boolean {
    return this.#started !== null;
  }

  /** @throws {Cancelled} When the worker is ended meanwhile. @throws {Error} What the worker throws, or why it could not be started. */
  call<T>(act: (remote: Remote<Api>) => Promise<T>): Promise<T> {
    const { remote } = this.#start();
    return new Promise((resolve, reject) => {
      this.#waiting.add(reject);
      act(remote)
        .then(resolve, reject)
        .finally(() => this.#waiting.delete(reject));
    });
  }

  /** Ends what is being done, at once. */
  end(): void {
    this.#fail(new Cancelled());
  }

  #fail(error: Error): void {
    this.#started?.worker.terminate();
    this.#started = null;
    for (const reject of this.#waiting) reject(error);
    this.#waiting.clear();
  }

  #start(): { worker: Worker; remote: Remote<Api> } {
    if (this.#started) return this.#started;
    const worker = this.#create();
    worker.onerror = ({ message }) => this.#fail(new Error(message || 'The worker could not be started.'));
    this.#started = { worker, remote: wrap<Api>(worker) };
    this.#onStart(this.#started.remote);
    return this.#started;
  }
}
