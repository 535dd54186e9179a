import type { MikroORM } from '@mikro-orm/postgresql';
import { createDocument } from '../../core/document/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { createRigidCharacter } from '../../core/rig/index.ts';
import { readCharacter } from '../../formats/index.ts';
import { createOrm } from '../database/orm.ts';
import { Task } from '../entities/entities.ts';
import { BlobService } from '../services/blob-service.ts';
import { createSubject, WorkPool } from '../work/work-pool.ts';
import { goOn } from './go-on.ts';
import { getKind } from './kinds/index.ts';
import type { Ready } from './kinds/task-kind.ts';
import { readSnapshot, readSnapshotDocument } from './snapshot.ts';
import { type PartKey, TaskQueue } from './task-queue.ts';
import {
  CANCEL_CHANNEL,
  claimPart,
  endTask,
  findEnded,
  findForgotten,
  findUnfinished,
  findWaiting,
  freeOrphans,
  notePart,
  readPart,
  storePart,
} from './task-sql.ts';
import { WorkerLock } from './worker-lock.ts';

/** Workers that are gone, and what was forgotten, are looked for so often. */
const LOOK_EVERY_MS = 2000;
/** A part that waits for so long while a thread is free was handed to somebody who is gone. */
const FORGOTTEN_SECONDS = 30;
const NOTE_EVERY_MS = 400;
/** Characters that are kept ready for the next part. */
const MOST_SUBJECTS = 2;

/** What is of no character is done with none. */
const NOBODY: Ready = {
  subject: createSubject(
    { ...createRigidCharacter('nobody', new Float32Array(0), new Uint32Array(0)), sections: [] },
    createDocument(),
  ),
  document: createDocument(),
};

interface WorkerOptions {
  databaseUrl: string;
  threads: number;
  say(line: string): void;
  /** The connection that says that it lives is gone: others take its parts up, and it must end. */
  onLost(): void;
}

/** Does parts of tasks, so many at a time, until it is closed. Any number of them, anywhere, share the work of one database. */
export class TaskWorker {
  readonly #options: WorkerOptions;
  readonly #orm: MikroORM;
  readonly #lock: WorkerLock;
  readonly #queue: TaskQueue;
  readonly #pool: WorkPool;
  readonly #timer: ReturnType<typeof setInterval>;
  /** What ends the parts of a task that are being done here. */
  readonly #controls = new Map<string, AbortController>();
  readonly #subjects = new Map<string, Promise<Ready>>();
  #looking: Promise<void> = Promise.resolve();
  #busy = 0;
  #isClosed = false;

  private constructor(options: WorkerOptions, orm: MikroORM, lock: WorkerLock, queue: TaskQueue) {
    this.#options = options;
    this.#orm = orm;
    this.#lock = lock;
    this.#queue = queue;
    this.#pool = new WorkPool(options.threads);
    this.#timer = setInterval(() => {
      this.#looking = this.#looking.then(() => this.#look());
    }, LOOK_EVERY_MS);
  }

  /** @param options.databaseUrl - Of a database whose schema is up to date. */
  static async start(options: WorkerOptions): Promise<TaskWorker> {
    const orm = await createOrm(options.databaseUrl);
    const lock = await WorkerLock.take(options.databaseUrl);
    const queue = await TaskQueue.open(options.databaseUrl, true);
    const worker = new TaskWorker(options, orm, lock, queue);
    await worker.#listen();
    await worker.#look();
    await queue.work(options.threads, () => worker.#wake());
    return worker;
  }

  /** Ends at once; what it was at is taken up by another worker, or the next one. */
  async close(): Promise<void> {
    this.#isClosed = true;
    clearInterval(this.#timer);
    for (const control of this.#controls.values()) control.abort();
    await this.#looking;
    await this.#queue.close();
    await this.#pool.close();
    await this.#lock.release();
    await this.#orm.close();
  }

  async #listen(): Promise<void> {
    const { client } = this.#lock;
    client.on('notification', ({ payload }) => this.#controls.get(payload ?? '')?.abort());
    const lose = (): void => {
      if (!this.#isClosed) this.#options.onLost();
    };
    client.on('error', lose);
    client.on('end', lose);
    await client.query(`listen ${CANCEL_CHANNEL}`);
  }

  async #look(): Promise<void> {
    if (this.#isClosed) return;
    const em = this.#orm.em.fork();
    try {
      const parts = await freeOrphans(em);
      if (this.#busy < this.#options.threads) parts.push(...(await findForgotten(em, FORGOTTEN_SECONDS)));
      await this.#queue.send(parts);
      for (const id of await findUnfinished(em))
        await this.#finish(id).catch((error: unknown) => this.#fail(id, error));
      for (const id of await findEnded(em, [...this.#controls.keys()])) {
        this.#controls.get(id)?.abort();
        this.#controls.delete(id);
      }
    } catch (error) {
      this.#options.say(`worker: ${tellError(error)}`);
    }
  }

  /** Does what waits, until nothing does. */
  async #wake(): Promise<void> {
    for (;;) {
      const em = this.#orm.em.fork();
      const part = this.#isClosed ? null : await findWaiting(em);
      if (!part) return;
      // Others may have been quicker; then there is another one.
      if (await claimPart(em, part, this.#lock.worker)) await this.#take(part);
    }
  }

  async #take(part: PartKey): Promise<void> {
    this.#busy++;
    const control = this.#controls.get(part.taskId) ?? new AbortController();
    this.#controls.set(part.taskId, control);
    try {
      await this.#do(part, control.signal);
      await this.#finish(part.taskId);
    } catch (error) {
      if (control.signal.aborted || this.#isClosed) return;
      await this.#fail(part.taskId, error);
    } finally {
      this.#busy--;
      // The next part of it, should there be one, makes another.
      if (control.signal.aborted) this.#controls.delete(part.taskId);
    }
  }

  async #do(key: PartKey, signal: AbortSignal): Promise<void> {
    const em = this.#orm.em.fork();
    const task = await em.findOneOrFail(Task, { id: key.taskId }, { populate: ['request'] });
    const { request: part, total } = await readPart(em, key);
    const ready = task.snapshotHash ? await this.#getSubject(task.snapshotHash) : NOBODY;
    signal.throwIfAborted();
    const note = this.#createNoter(key);
    const made = await getKind(task.kind).run({
      ...ready,
      em,
      key,
      request: task.request.get(),
      part,
      total,
      note,
      run: (kind, job, onDone) =>
        this.#pool.run(ready.subject, kind, job, { signal, ...(onDone && { onDone }) }),
    });
    signal.throwIfAborted();
    await storePart(em, key, this.#lock.worker, made);
  }

  /** Says how far a part is, now and then. */
  #createNoter(part: PartKey): (count: number) => void {
    let notedAt = 0;
    return (count) => {
      if (Date.now() - notedAt < NOTE_EVERY_MS) return;
      notedAt = Date.now();
      notePart(this.#orm.em.fork(), part, Math.round(count)).catch(() => {
        // The next one is soon.
      });
    };
  }

  async #fail(taskId: string, error: unknown): Promise<void> {
    const reason = tellError(error);
    this.#options.say(`worker: a task failed: ${reason}`);
    await this.#orm.em.fork().transactional((em) => endTask(em, taskId, 'failed', reason));
  }

  async #finish(taskId: string): Promise<void> {
    const gone = await goOn(this.#orm.em.fork(), taskId);
    if (!gone) return;
    await this.#queue.send(gone.parts);
    if (!gone.isDone) return;
    this.#controls.delete(taskId);
    this.#options.say(`worker: task ${taskId} is done`);
  }

  /** The character as a task has it, prepared; kept for the next part. */
  #getSubject(hash: string): Promise<Ready> {
    const subject = this.#subjects.get(hash) ?? this.#readSubject(hash);
    // The newest stays longest.
    this.#subjects.delete(hash);
    this.#subjects.set(hash, subject);
    subject.catch(() => this.#subjects.delete(hash));
    for (const old of [...this.#subjects.keys()].slice(0, -MOST_SUBJECTS)) this.#subjects.delete(old);
    return subject;
  }

  async #readSubject(hash: string): Promise<Ready> {
    const em = this.#orm.em.fork();
    const blobs = new BlobService(em);
    const snapshot = await readSnapshot(em, hash);
    const files = await Promise.all(
      snapshot.files.map(async ({ hash: of, bytes: _size, ...file }) => {
        const bytes = await blobs.get(of);
        if (!bytes) throw new Error(`The bytes of "${file.name}" are gone from the store.`);
        return { ...file, bytes };
      }),
    );
    const document = await readSnapshotDocument(em, snapshot);
    const { character } = await readCharacter(files);
    return { subject: createSubject(prepareCharacter(character, document).character, document), document };
  }
}

function tellError(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).split('\n')[0]!.slice(0, 1000);
}
