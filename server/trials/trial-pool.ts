import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { type AuthoredDocument, toWholePatch } from '../../core/document/index.ts';
import { type Character, shareSections } from '../../core/rig/index.ts';
import type { VariableChanges } from '../../core/search/index.ts';
import type { TrialCase } from '../../core/trials/index.ts';
import { findProjectRoot } from '../project-root.ts';
import type { MeasuredCase, TrialTask } from './trial-thread.ts';

/** A character and a document, ready to be measured by any thread. */
export type TrialSubject = Pick<TrialTask, 'key' | 'character' | 'sections' | 'patch'>;

export interface MeasureOptions {
  /** Told how many frames are measured. */
  onFrames?: (count: number) => void;
  /** Ends it at once; the promise is rejected. */
  signal?: AbortSignal;
  /** What is other than in the document, for this case alone. */
  changes?: VariableChanges;
}

let subjects = 0;

/** @param character - Prepared. Its sections are moved to shared memory and must not be written to any more. */
export function createSubject(character: Character, document: AuthoredDocument): TrialSubject {
  const { sections: _sections, ...rest } = character;
  return {
    key: `${process.pid}-${++subjects}`,
    character: rest,
    sections: shareSections(character),
    patch: toWholePatch(document),
  };
}

/** Threads that measure cases of trials, one on each core. */
export class TrialPool {
  readonly #pool: Piscina;

  constructor(threads = availableParallelism()) {
    const root = findProjectRoot();
    this.#pool = new Piscina({
      filename: join(root, 'server', 'trials', 'trial-thread.ts'),
      execArgv: ['--import', pathToFileURL(join(root, 'node_modules', 'tsx', 'dist', 'loader.mjs')).href],
      minThreads: 1,
      maxThreads: Math.max(1, threads),
      idleTimeout: 60_000,
    });
  }

  /** Measures one case. @throws {Error} What the run throws, or an AbortError when it was ended. */
  async measure(
    subject: TrialSubject,
    trialCase: TrialCase,
    { onFrames, signal, changes }: MeasureOptions = {},
  ): Promise<MeasuredCase> {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (count: number) => onFrames?.(count));
    try {
      const task: TrialTask = { ...subject, trialCase, port: port2, ...(changes && { changes }) };
      return (await this.#pool.run(task, {
        transferList: [port2],
        ...(signal && { signal }),
      })) as MeasuredCase;
    } finally {
      port1.close();
    }
  }

  async close(): Promise<void> {
    await this.#pool.destroy();
  }
}
