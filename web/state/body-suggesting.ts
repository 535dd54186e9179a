import { proxy, type Remote } from 'comlink';
import {
  type AuthoredRecord,
  type DocumentDiff,
  listBodies,
  listBodyMeshes,
  type RecordId,
  toWholePatch,
} from '../../core/document/index.ts';
import {
  type Demand,
  type PlacedShape,
  type SuggestionRequest,
  toBodyRecords,
} from '../../core/suggest/index.ts';
import type { BodiesApi } from '../workers/bodies.worker.ts';
import type { BodyMeshes } from './body-meshes.ts';
import { countCores } from './count-cores.ts';
import { createId, type Editor } from './editor.ts';
import { estimateLeft } from './estimate-left.ts';
import { Store } from './store.ts';
import { Cancelled, WorkerCalls } from './worker-calls.ts';

/** A set on the curve: what it leaves open on the clips that it was suggested for. */
export interface SuggestedSet {
  bodies: readonly PlacedShape[];
  /** m; m², the mean of the clips' means; milliseconds a frame. */
  penetration: number;
  showThrough: number;
  cost: number;
  /** The same by clip. */
  demands: readonly Omit<Demand, 'weights'>[];
}

export interface BodySuggestingState {
  /** What is being done, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Seconds until it is done, when that can be told. */
  secondsLeft: number | null;
  /** What it is for; null before the first. */
  request: SuggestionRequest | null;
  /** Sets that were simulated, as they came. */
  sets: readonly SuggestedSet[];
  failure: string | null;
}

const NOTHING: BodySuggestingState = {
  task: null,
  share: 0,
  secondsLeft: null,
  request: null,
  sets: [],
  failure: null,
};

/** Share of the progress that fitting takes; each set that is simulated takes a like share of the rest. */
const FIT_SHARE = 0.2;

/** Asks for a body set, in as many workers as there are cores, that can be ended. The document stays until a set is taken. */
export class BodySuggesting {
  readonly store = new Store<BodySuggestingState>(NOTHING);
  readonly #editor: Editor;
  readonly #meshes: Pick<BodyMeshes, 'replace'>;
  #workers: WorkerCalls<BodiesApi>[] = [];

  constructor(editor: Editor, meshes: Pick<BodyMeshes, 'replace'>) {
    this.#editor = editor;
    this.#meshes = meshes;
    editor.onDiff((diff) => this.#follow(diff));
  }

  async start(request: SuggestionRequest): Promise<void> {
    this.cancel();
    this.store.set({ ...NOTHING, request, task: 'Looking at the skin' });
    const count = Math.max(1, Math.min(countCores(), request.clips.length));
    const workers = Array.from(
      { length: count },
      () =>
        new WorkerCalls<BodiesApi>(
          () => new Worker(new URL('../workers/bodies.worker.ts', import.meta.url), { type: 'module' }),
        ),
    );
    this.#workers = workers;
    try {
      await this.#work(workers, request);
    } catch (error) {
      if (!(error instanceof Cancelled) && workers === this.#workers) {
        this.store.set({ failure: (error as Error).message });
      }
    } finally {
      if (workers === this.#workers) this.#end();
    }
  }

  /** Ends the work at once; sets that were simulated stay to be chosen from. */
  cancel(): void {
    this.#end();
  }

  /** Puts a set in the place of the one that is there, as one step. @throws {Error} When a mesh of it cannot be taken away. */
  async take({ bodies }: SuggestedSet): Promise<void> {
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

  async #work(workers: readonly WorkerCalls<BodiesApi>[], request: SuggestionRequest): Promise<void> {
    const { character, document } = this.#editor;
    const patch = toWholePatch(document);
    await Promise.all(
      workers.map((worker) => worker.call((remote) => remote.load(character, patch, request))),
    );
    const startedAt = performance.now();
    this.store.set({ task: 'Fitting bodies to the skin' });
    const shares = workers.map(() => 0);
    const parts = await Promise.all(
      workers.map((worker, index) =>
        worker.call((remote) =>
          remote.fit(
            { index, count: workers.length },
            proxy((share: number) => {
              shares[index] = share;
              this.#tell(FIT_SHARE * mean(shares), startedAt);
            }),
          ),
        ),
      ),
    );
    const [lead] = workers as [WorkerCalls<BodiesApi>];
    let bodies: readonly PlacedShape[] | null = await lead.call((remote) => remote.choose(parts.flat()));
    while (bodies) {
      const done: number = Math.min(1, bodies.length / Math.max(1, request.goal.bodies));
      const share = FIT_SHARE + (1 - FIT_SHARE) * done;
      this.store.set({ task: `Simulating ${bodies.length} ${bodies.length === 1 ? 'body' : 'bodies'}` });
      const demands = await this.#measure(workers, bodies, request.clips, () => this.#tell(share, startedAt));
      this.#note(bodies, demands);
      bodies = await lead.call((remote) => remote.next(demands));
    }
  }

  /** All clips, each by the next worker that is free, the longest first. */
  async #measure(
    workers: readonly WorkerCalls<BodiesApi>[],
    bodies: readonly PlacedShape[],
    clips: readonly number[],
    onShare: () => void,
  ): Promise<Demand[]> {
    const { character } = this.#editor;
    const left = [...clips].sort((p, q) => character.clips[q]!.duration - character.clips[p]!.duration);
    const demands: Demand[] = [];
    const tell = proxy(onShare);
    const ask = (remote: Remote<BodiesApi>, clip: number): Promise<Demand> =>
      remote.measure(bodies, clip, tell);
    await Promise.all(
      workers.map(async (worker) => {
        for (let clip = left.shift(); clip !== undefined; clip = left.shift()) {
          const next = clip;
          demands.push(await worker.call((remote) => ask(remote, next)));
        }
      }),
    );
    return demands.sort((p, q) => p.clip - q.clip);
  }

  #note(bodies: readonly PlacedShape[], demands: readonly Demand[]): void {
    const set: SuggestedSet = {
      bodies,
      penetration: Math.max(...demands.map(({ penetration }) => penetration)),
      showThrough: mean(demands.map(({ showThrough }) => showThrough)),
      cost: mean(demands.map(({ cost }) => cost)),
      demands: demands.map(({ weights: _weights, ...demand }) => demand),
    };
    this.store.set({ sets: [...this.store.state.sets, set] });
  }

  #tell(share: number, startedAt: number): void {
    const secondsLeft = estimateLeft(startedAt, share);
    this.store.set({ share: Math.max(share, this.store.state.share), secondsLeft });
  }

  #end(): void {
    for (const worker of this.#workers) worker.end();
    this.#workers = [];
    this.store.set({ task: null, share: 0, secondsLeft: null });
  }

  /** Kept bodies or the set went meanwhile: what is on the curve is of something that is no more. */
  #follow(diff: DocumentDiff): void {
    const { request } = this.store.state;
    if (!request) return;
    const isGone = [request.bodySetId, ...request.keptIds].some((id) => diff.records.get(id)?.[1] === null);
    if (!isGone) return;
    this.#end();
    this.store.set(NOTHING);
  }
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}
