import { proxy, type Remote } from 'comlink';
import {
  type AuthoredDocument,
  type DocumentDiff,
  toPatch,
  toWholePatch,
} from '../../core/document/index.ts';
import type { MeshFinding } from '../../core/mesh/index.ts';
import type { ShapeFit, StepFaults, StepProblem } from '../../core/prepare/index.ts';
import type { Character, SectionName } from '../../core/rig/index.ts';
import type { PrepareLoop } from '../workers/prepare-loop.ts';
import type {
  BodyMeshFigures,
  BodyMeshRequest,
  MeasureRequest,
  PreparedReply,
  SimMeshFigures,
  Trial,
} from '../workers/prepare-protocol.ts';
import { DiffQueue } from './diff-queue.ts';
import { Store } from './store.ts';
import { Cancelled, WorkerCalls } from './worker-calls.ts';

export interface PreparationState {
  /** What is being done, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Steps that could not be applied to the source. */
  problems: readonly StepProblem[];
  /** What is wrong with what steps made. */
  faults: readonly StepFaults[];
  /** Why the newest preparation of the whole could not be made, and what became of that; null when it could. */
  failure: string | null;
}

/** The page's end of the worker that prepares the character. */
export class PreparationClient {
  readonly store = new Store<PreparationState>({
    task: null,
    share: 0,
    problems: [],
    faults: [],
    failure: null,
  });
  /** As it came. */
  readonly source: Character;
  readonly #calls: WorkerCalls<PrepareLoop>;
  /** Changes of the document that the next question is to know. */
  readonly #waiting = new DiffQueue();
  #isDisposed = false;
  /** Tasks under way. */
  #tasks = 0;

  /** @param source - Kept, to start anew after a cancel. */
  constructor(source: Character, document: AuthoredDocument) {
    this.source = source;
    // Started with the first question: the first moving picture comes before it.
    this.#calls = new WorkerCalls(
      () => new Worker(new URL('../workers/prepare.worker.ts', import.meta.url), { type: 'module' }),
      (remote) => {
        // A new worker is given the whole document.
        this.#waiting.take();
        void remote.load(source, toWholePatch(document));
      },
    );
  }

  /** Takes a change of the document over: it is sent before the next question. */
  follow(diff: DocumentDiff): void {
    if (this.#calls.isStarted) this.#waiting.push(diff);
  }

  /** Replays all steps. */
  async prepare(): Promise<PreparedReply> {
    const reply = await this.#do('Replaying the preparation', (remote, onProgress) =>
      remote.prepare(onProgress),
    );
    this.store.set({ problems: reply.problems, faults: reply.faults });
    return reply;
  }

  /** @throws {Cancelled} @throws {Error} With the reason, when the step cannot be applied. */
  tryOut(task: string, trial: Trial): Promise<PreparedReply> {
    return this.#do(task, (remote, onProgress) => remote.tryOut(trial, onProgress));
  }

  check(section: SectionName): Promise<MeshFinding[]> {
    return this.#look((remote) => remote.check(section));
  }

  checkShapes(section: SectionName): Promise<ShapeFit[]> {
    return this.#look((remote) => remote.checkShapes(section));
  }

  measure(request: MeasureRequest): Promise<SimMeshFigures> {
    return this.#look((remote) => remote.measure(request));
  }

  measureBodyMesh(request: BodyMeshRequest): Promise<BodyMeshFigures> {
    return this.#look((remote) => remote.measureBodyMesh(request));
  }

  /** Welded vertices of the inner side of a section, non-zero. */
  findInnerSide({ sectionIndex, sectionName }: SectionName): Promise<Uint8Array> {
    return this.#look((remote) => remote.findInnerSide({ sectionIndex, sectionName }));
  }

  /** Ends what is being done, at once. */
  cancel(): void {
    this.#calls.end();
    this.store.set({ task: null, share: 0 });
  }

  dispose(): void {
    this.#isDisposed = true;
    this.#calls.end();
  }

  /** A question that is shown as a task, with its progress. */
  async #do<T>(
    task: string,
    ask: (remote: Remote<PrepareLoop>, onProgress: (share: number) => void) => Promise<T>,
  ): Promise<T> {
    this.#tasks++;
    this.store.set({ task, share: 0 });
    const onProgress = proxy((share: number) => this.store.set({ share }));
    try {
      return await this.#ask((remote) => ask(remote, onProgress));
    } finally {
      this.#tasks--;
      if (this.#tasks === 0) this.store.set({ task: null, share: 0 });
    }
  }

  /** A question that changes nothing: what is cancelled is something else, and this is asked again. */
  async #look<T>(ask: (remote: Remote<PrepareLoop>) => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await this.#ask(ask);
      } catch (error) {
        if (!(error instanceof Cancelled) || this.#isDisposed) throw error;
      }
    }
  }

  #ask<T>(ask: (remote: Remote<PrepareLoop>) => Promise<T>): Promise<T> {
    return this.#calls.call((remote) => {
      if (!this.#waiting.isEmpty) void remote.patch(toPatch(this.#waiting.take()));
      return ask(remote);
    });
  }
}
