import type { AuthoredDocument, RecordId } from '../../core/document/index.ts';
import { type DocumentDiff, type DocumentPatch, toPatch, toWholePatch } from '../../core/document/index.ts';
import type { MeshFinding } from '../../core/mesh/index.ts';
import type { ShapeFit, StepProblem } from '../../core/prepare/index.ts';
import type { Character, SectionName } from '../../core/rig/index.ts';
import type { Carry, PrepareReply, PrepareRequest, SimMeshFigures } from '../workers/prepare-protocol.ts';
import { DiffQueue } from './diff-queue.ts';
import { Store } from './store.ts';

export interface PreparationState {
  /** What is being done, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Steps that could not be applied to the source. */
  problems: readonly StepProblem[];
  /** Why the newest preparation of the whole could not be made, and what became of that; null when it could. */
  failure: string | null;
}

export type PreparedReply = Extract<PrepareReply, { kind: 'prepared' }>;

/** Thrown into a task that was cancelled. */
export class Cancelled extends Error {
  constructor() {
    super('Cancelled.');
  }
}

/** A request before it has its token. */
type Asked = PrepareRequest extends infer R
  ? R extends { token: number }
    ? Omit<R, 'token'>
    : never
  : never;

interface Waiting {
  isTask: boolean;
  resolve(reply: PrepareReply): void;
  reject(error: Error): void;
}

/** The page's end of the worker that prepares the character. */
export class PreparationClient {
  readonly store = new Store<PreparationState>({ task: null, share: 0, problems: [], failure: null });
  readonly #source: Character;
  readonly #document: AuthoredDocument;
  readonly #waiting = new Map<number, Waiting>();
  /** Started with the first request: the first moving picture comes before it. */
  #worker: Worker | null = null;
  readonly #waitingDiffs = new DiffQueue();
  #token = 0;

  /** @param source - Kept, to start anew after a cancel. */
  constructor(source: Character, document: AuthoredDocument) {
    this.#source = source;
    this.#document = document;
  }

  /** Takes a change of the document over: it is sent before the next question. */
  follow(diff: DocumentDiff): void {
    if (this.#worker) this.#waitingDiffs.push(diff);
  }

  /** Replays all steps. */
  async prepare(): Promise<PreparedReply> {
    const reply = (await this.#ask({ kind: 'prepare' }, 'Replaying the preparation')) as PreparedReply;
    this.store.set({ problems: reply.problems });
    return reply;
  }

  /** @throws {Cancelled} @throws {Error} With the reason, when the step cannot be applied. */
  async tryOut(
    task: string,
    patch: DocumentPatch,
    stepId: RecordId | null,
    carries: Carry[],
  ): Promise<PreparedReply> {
    return (await this.#ask({ kind: 'try', patch, stepId, carries }, task)) as PreparedReply;
  }

  async check(section: SectionName): Promise<MeshFinding[]> {
    const reply = await this.#ask({ kind: 'check', section }, null);
    return (reply as Extract<PrepareReply, { kind: 'checked' }>).findings;
  }

  async checkShapes(section: SectionName): Promise<ShapeFit[]> {
    const reply = await this.#ask({ kind: 'checkShapes', section }, null);
    return (reply as Extract<PrepareReply, { kind: 'shapesChecked' }>).fits;
  }

  async measure(
    section: SectionName,
    renders: readonly SectionName[],
    clip: number | null,
    edgeLength: number | null,
  ): Promise<SimMeshFigures> {
    const reply = await this.#ask({ kind: 'measure', section, renders, clip, edgeLength }, null);
    return (reply as Extract<PrepareReply, { kind: 'measured' }>).figures;
  }

  /** Ends what is being done, at once. */
  cancel(): void {
    this.#worker?.terminate();
    this.#worker = null;
    for (const { reject } of this.#waiting.values()) reject(new Cancelled());
    this.#waiting.clear();
    this.store.set({ task: null, share: 0 });
  }

  dispose(): void {
    this.#worker?.terminate();
  }

  #start(): Worker {
    // A new worker is given the whole document.
    this.#waitingDiffs.take();
    const worker = new Worker(new URL('../workers/prepare.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<PrepareReply>) => this.#receive(data);
    const request: PrepareRequest = {
      kind: 'load',
      source: this.#source,
      patch: toWholePatch(this.#document),
    };
    worker.postMessage(request);
    return worker;
  }

  #ask(request: Asked, task: string | null): Promise<PrepareReply> {
    const token = ++this.#token;
    if (task) this.store.set({ task, share: 0 });
    return new Promise((resolve, reject) => {
      this.#waiting.set(token, { isTask: task !== null, resolve, reject });
      this.#worker ??= this.#start();
      if (!this.#waitingDiffs.isEmpty) {
        const patch = toPatch(this.#waitingDiffs.take());
        this.#worker.postMessage({ kind: 'patch', patch } satisfies PrepareRequest);
      }
      this.#worker.postMessage({ ...request, token });
    });
  }

  #receive(reply: PrepareReply): void {
    if (reply.kind === 'progress') {
      this.store.set({ share: reply.share });
      return;
    }
    const waiting = this.#waiting.get(reply.token);
    this.#waiting.delete(reply.token);
    if (waiting?.isTask && ![...this.#waiting.values()].some(({ isTask }) => isTask))
      this.store.set({ task: null, share: 0 });
    if (reply.kind === 'failed') waiting?.reject(new Error(reply.message));
    else waiting?.resolve(reply);
  }
}
