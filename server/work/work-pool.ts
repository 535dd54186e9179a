import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { type AuthoredDocument, toWholePatch } from '../../core/document/index.ts';
import { type Character, shareSections } from '../../core/rig/index.ts';
import { findProjectRoot } from '../project-root.ts';
import type { JobKind, JobOf, MadeOf, Subject } from './jobs/index.ts';
import type { ThreadTask } from './work-thread.ts';

export interface WorkOptions {
  /** Told how much is done: frames of a case, the share of anything else. */
  onDone?: (done: number) => void;
  /** Ends it at once; the promise is rejected. */
  signal?: AbortSignal;
}

let subjects = 0;

/** @param character - Prepared. Its sections are moved to shared memory and must not be written to any more. */
export function createSubject(character: Character, document: AuthoredDocument): Subject {
  const { sections: _sections, ...rest } = character;
  return {
    key: `${process.pid}-${++subjects}`,
    character: rest,
    sections: shareSections(character),
    patch: toWholePatch(document),
  };
}

/** Threads that do jobs on characters, one on each core. */
export class WorkPool {
  readonly #pool: Piscina;

  constructor(threads = availableParallelism()) {
    const root = findProjectRoot();
    this.#pool = new Piscina({
      filename: join(root, 'server', 'work', 'work-thread.ts'),
      execArgv: ['--import', pathToFileURL(join(root, 'node_modules', 'tsx', 'dist', 'loader.mjs')).href],
      minThreads: 1,
      maxThreads: Math.max(1, threads),
      idleTimeout: 60_000,
    });
  }

  /** Does one job. @throws {Error} What the job throws, or an AbortError when it was ended. */
  async run<K extends JobKind>(
    subject: Subject,
    kind: K,
    job: JobOf<K>,
    { onDone, signal }: WorkOptions = {},
  ): Promise<MadeOf<K>> {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (done: number) => onDone?.(done));
    try {
      const task: ThreadTask = { ...subject, kind, job, port: port2 };
      return (await this.#pool.run(task, {
        transferList: [port2],
        ...(signal && { signal }),
      })) as MadeOf<K>;
    } finally {
      port1.close();
    }
  }

  async close(): Promise<void> {
    await this.#pool.destroy();
  }
}
