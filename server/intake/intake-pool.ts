import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { CostProfile, UnitCosts } from '../../core/cost/index.ts';
import type { AuthoredDocument } from '../../core/document/index.ts';
import { IntakeError, type SourceFile } from '../../formats/index.ts';
import { findProjectRoot } from '../project-root.ts';
import type {
  CompareOutcome,
  IntakeOutcome,
  IntakeTask,
  KitOutcome,
  ReadOutcome,
  ShipOutcome,
  TaskOutcome,
} from './intake-task.ts';

/** A file that takes longer than this is stopped. */
const MOST_SECONDS = 60;
const MOST_MEMORY_MB = 3072;

/** Worker threads that read and write files under a time and memory limit, so that a hostile one harms nobody else. */
export class IntakePool {
  readonly #pool: Piscina;
  readonly #seconds: number;

  constructor(limits: { seconds?: number; memoryMb?: number } = {}) {
    this.#seconds = limits.seconds ?? MOST_SECONDS;
    const root = findProjectRoot();
    this.#pool = new Piscina({
      filename: join(root, 'server', 'intake', 'intake-worker.ts'),
      execArgv: ['--import', pathToFileURL(join(root, 'node_modules', 'tsx', 'dist', 'loader.mjs')).href],
      minThreads: 1,
      maxThreads: 2,
      idleTimeout: 120_000,
      resourceLimits: { maxOldGenerationSizeMb: limits.memoryMb ?? MOST_MEMORY_MB },
    });
  }

  read(files: SourceFile[]): Promise<ReadOutcome> {
    return this.#run({ kind: 'read', files }) as Promise<ReadOutcome>;
  }

  /** @param revision - Of the character, named in the file. */
  ship(
    files: SourceFile[],
    shipped: Pick<Extract<IntakeTask, { kind: 'ship' }>, 'authored' | 'revision' | 'crowd'>,
  ): Promise<ShipOutcome> {
    return this.#run({ kind: 'ship', files, ...shipped }) as Promise<ShipOutcome>;
  }

  /** @param files - The new version. @param before - The one that everything was authored on. */
  compare(
    files: SourceFile[],
    before: SourceFile[],
    authored: AuthoredDocument,
    renames: Record<string, string>,
    isTaken: boolean,
  ): Promise<CompareOutcome> {
    return this.#run({
      kind: 'compare',
      files,
      before,
      authored,
      renames,
      isTaken,
    }) as Promise<CompareOutcome>;
  }

  /** Calibration garments with the table to fill in, as a ZIP archive. */
  writeTargetKit(): Promise<KitOutcome> {
    return this.#run({ kind: 'targetKit' }) as Promise<KitOutcome>;
  }

  /** What a table of timings tells of unit costs. @param base - Of the machine that work is weighed on. */
  fitTimings(csv: string, base: UnitCosts): Promise<CostProfile> {
    return this.#run({ kind: 'timings', csv, base }) as Promise<CostProfile>;
  }

  async close(): Promise<void> {
    await this.#pool.destroy();
  }

  /** The time runs from when a thread begins: one that starts, or a task that waits for another, is not the file's fault. */
  async #runLimited(task: IntakeTask): Promise<IntakeOutcome<TaskOutcome>> {
    const { port1, port2 } = new MessageChannel();
    const control = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    port1.once('message', () => {
      timer = setTimeout(() => control.abort(), this.#seconds * 1000);
    });
    try {
      return (await this.#pool.run(
        { task, port: port2 },
        { signal: control.signal, transferList: [port2] },
      )) as IntakeOutcome<TaskOutcome>;
    } finally {
      clearTimeout(timer);
      port1.close();
    }
  }

  async #run(task: IntakeTask): Promise<TaskOutcome> {
    const name = 'files' in task ? (task.files[0]?.name ?? '') : '';
    let outcome: IntakeOutcome<TaskOutcome>;
    try {
      outcome = await this.#runLimited(task);
    } catch (error) {
      const code = (error as { code?: string }).code;
      if (error instanceof Error && (error.name === 'AbortError' || error.name === 'TimeoutError')) {
        throw new IntakeError(
          'timed-out',
          name,
          '',
          `Reading took longer than ${this.#seconds} s and was stopped.`,
          'Split the file, or take out what is not needed.',
        );
      }
      if (code === 'ERR_WORKER_OUT_OF_MEMORY') {
        throw new IntakeError(
          'out-of-memory',
          name,
          '',
          'Reading needed more memory than is allowed.',
          'Split the file, or take out what is not needed.',
        );
      }
      throw error;
    }
    if (outcome.ok) return outcome.value;
    const { code, file, where, found, remedy } = outcome.error;
    throw new IntakeError(code, file, where, found, remedy);
  }
}
