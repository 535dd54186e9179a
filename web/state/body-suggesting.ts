import {
  type AuthoredRecord,
  type DocumentDiff,
  listBodies,
  listBodyMeshes,
  type RecordId,
} from '../../core/document/index.ts';
import {
  countBodiesTried,
  type FoundSet,
  listFoundSets,
  type SuggestionRequest,
  type SuggestionStep,
  toBodyRecords,
} from '../../core/suggest/index.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { api } from './api.ts';
import type { BodyMeshes } from './body-meshes.ts';
import { createId, type Editor } from './editor.ts';
import type { Ordering } from './ordering.ts';
import { Store } from './store.ts';
import { isOpen, tellLeft } from './task-watch.ts';

export interface BodySuggestingState {
  /** What is being done, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Seconds until it is done, when that can be told. */
  secondsLeft: number | null;
  /** What it is for; null before the first. */
  request: SuggestionRequest | null;
  /** Sets that were simulated, as they came. */
  sets: readonly FoundSet[];
  failure: string | null;
}

const IDLE = { task: null, share: 0, secondsLeft: null } as const;
const NOTHING: BodySuggestingState = { ...IDLE, request: null, sets: [], failure: null };

/** Asks the server for a body set, and follows how it comes about. The document stays until a set is taken. */
export class BodySuggesting {
  readonly store = new Store<BodySuggestingState>(NOTHING);
  readonly #editor: Editor;
  readonly #meshes: Pick<BodyMeshes, 'replace'>;
  readonly #ordering: Ordering;
  /** The task that is followed; null: the newest, also one of before this page was opened. `false` while one is being ordered, or its sets are of no use any more. */
  #followed: string | null | false = null;
  /** One that this page has seen under way: how it ends is told. */
  #running: string | null = null;
  /** Parts that were done when its sets were read. */
  #read = -1;
  #isReading = false;
  #steps: readonly SuggestionStep[] = [];
  #orders = 0;

  constructor(editor: Editor, meshes: Pick<BodyMeshes, 'replace'>, ordering: Ordering) {
    this.#editor = editor;
    this.#meshes = meshes;
    this.#ordering = ordering;
    editor.onDiff((diff) => this.#drop(diff));
    ordering.watch.store.subscribe(() => this.#follow());
  }

  async start(request: SuggestionRequest): Promise<void> {
    this.cancel();
    const order = ++this.#orders;
    this.#followed = false;
    this.#read = -1;
    this.#steps = [];
    this.store.set({ ...NOTHING, request, task: 'Asking the server' });
    try {
      const task = await this.#ordering.order((id, seen) => api.orderBodies(id, { ...request, seen }));
      // Another one was asked for, or none any more, meanwhile.
      if (order !== this.#orders) await this.#ordering.cancel(task.id);
      else this.#followed = this.#running = task.id;
    } catch (error) {
      if (order === this.#orders) this.store.set({ ...IDLE, failure: (error as Error).message });
    }
    this.#follow();
  }

  /** Ends the work at once; sets that were simulated stay to be chosen from. */
  cancel(): void {
    this.#orders++;
    const { task } = this;
    if (task && isOpen(task))
      // Where it has ended of itself meanwhile, there is nothing to end.
      this.#ordering.cancel(task.id).catch(() => {});
    this.store.set(IDLE);
  }

  /** Puts a set in the place of the one that is there, as one step. @throws {Error} When a mesh of it cannot be taken away. */
  async take({ bodies }: FoundSet): Promise<void> {
    const { request } = this.store.state;
    if (!request) return;
    const { document, character } = this.#editor;
    const { bodySetId, keptIds } = request;
    const made = toBodyRecords(bodies, character.skeleton, bodySetId, createId);
    await this.#meshes.replace('Take suggested bodies', listBodyMeshes(document, bodySetId), [
      ...listBodies(document, bodySetId)
        .filter(({ id }) => !keptIds.includes(id))
        .map(({ id }): [RecordId, null] => [id, null]),
      ...made.map((record): [RecordId, AuthoredRecord] => [record.id, record]),
    ]);
  }

  /** The task that is followed, as far as the server has told of it. */
  get task(): TaskEntry | null {
    if (this.#followed === false) return null;
    if (this.#followed !== null) return this.#ordering.find(this.#followed);
    return this.#ordering.findNewest('bodies');
  }

  #follow(): void {
    const { task } = this;
    if (!task) return;
    this.#followed = task.id;
    if (isOpen(task)) {
      this.#running = task.id;
      this.#tell(task);
    }
    if (task.partsDone !== this.#read) {
      this.#read = task.partsDone;
      void this.#readSets(task.id, task.partsDone);
    } else if (!isOpen(task) && !this.#isReading) this.#end(task);
  }

  /** Only when its last sets are there: one that is chosen before would be one of fewer bodies. */
  #end(task: TaskEntry): void {
    if (this.#running !== task.id) return;
    this.#running = null;
    this.store.set({ ...IDLE, failure: task.error ?? this.store.state.failure });
  }

  #tell(task: TaskEntry): void {
    const { request } = this.store.state;
    const bodies = countBodiesTried(this.#steps, request?.clips.length ?? 0);
    const words =
      bodies === null
        ? 'Fitting bodies to the skin'
        : `Simulating ${bodies} ${bodies === 1 ? 'body' : 'bodies'}`;
    const share = task.done / Math.max(1, task.total);
    this.store.set({
      task: task.state === 'queued' ? 'Waiting for a worker' : words,
      share: Math.max(share, this.store.state.share),
      secondsLeft: tellLeft(task),
    });
  }

  async #readSets(id: string, partsDone: number): Promise<void> {
    const isNewest = (): boolean => this.#followed === id && this.#read === partsDone;
    this.#isReading = true;
    try {
      const { request, results } = await api.readBodies(id);
      // An answer that comes late knows less than the one that is asked for meanwhile.
      if (isNewest() && this.#isOfNow(request)) {
        this.#steps = results;
        this.store.set({ request, sets: listFoundSets(results, request.clips.length) });
      }
    } catch (error) {
      // Of a task that goes on the next change tells.
      if (isNewest()) this.store.set({ failure: (error as Error).message });
    }
    if (!isNewest()) return;
    this.#isReading = false;
    this.#follow();
  }

  #isOfNow({ bodySetId, keptIds }: SuggestionRequest): boolean {
    return [bodySetId, ...keptIds].every((id) => this.#editor.document.records.has(id));
  }

  /** Kept bodies or the set went meanwhile: what is on the curve is of something that is no more. */
  #drop(diff: DocumentDiff): void {
    const { request } = this.store.state;
    if (!request) return;
    const isGone = [request.bodySetId, ...request.keptIds].some((id) => diff.records.get(id)?.[1] === null);
    if (!isGone) return;
    this.cancel();
    this.#followed = false;
    this.store.set(NOTHING);
  }
}
