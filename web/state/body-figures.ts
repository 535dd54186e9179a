import { proxy, type Remote } from 'comlink';
import type { BodyUse, SetOnClip } from '../../core/body-figures/index.ts';
import { type DocumentDiff, type RecordId, toPatch, toWholePatch } from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import type { BodyFiguresLoop, ShownFit } from '../workers/body-figures-loop.ts';
import { countCores } from './count-cores.ts';
import { DiffQueue } from './diff-queue.ts';
import type { Editor } from './editor.ts';
import { estimateLeft } from './estimate-left.ts';
import { Store } from './store.ts';
import type { Targets } from './targets.ts';
import { Cancelled, WorkerCalls } from './worker-calls.ts';

/** What each body does, clip by clip. */
export interface MeasuredUse {
  bodySetId: RecordId;
  clips: readonly { clip: number; uses: readonly BodyUse[] }[];
  /** Whether bodies, maps or cloth changed since. */
  isOld: boolean;
}

export interface ComparedSets {
  usedSetId: RecordId;
  triedSetId: RecordId;
  used: SetOnClip;
  tried: SetOnClip;
  isOld: boolean;
}

export interface BodyFiguresState {
  /** How the bodies of a set fit; null before it is known. */
  fit: { bodySetId: RecordId; figures: ShownFit } | null;
  /** The figures are of earlier bodies: newer ones are on their way. */
  isFitting: boolean;
  /** Why there is no fit. */
  fitFailure: string | null;
  use: MeasuredUse | null;
  compared: ComparedSets | null;
  /** What is being simulated, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Until it is done; null while that cannot be told. */
  secondsLeft: number | null;
  /** Why nothing came of what was simulated last. */
  failure: string | null;
}

/** Figures follow a change after so long: not every step of a drag. */
const WAIT_MS = 150;

/** One thing that a worker does, told with the share done. */
type Job<T> = (remote: Remote<BodyFiguresLoop>, onShare: (share: number) => void) => Promise<T>;

/** How the bodies of a set fit the skin, what each does on the clips, and how two sets compare: from workers that know the document. */
export class BodyFigures {
  readonly store = new Store<BodyFiguresState>({
    fit: null,
    isFitting: false,
    fitFailure: null,
    use: null,
    compared: null,
    task: null,
    share: 0,
    secondsLeft: null,
    failure: null,
  });
  readonly #editor: Editor;
  readonly #fitter = createCalls();
  #workers: WorkerCalls<BodyFiguresLoop>[] = [];
  /** Changes of bodies that the fitter is to know. */
  readonly #waiting = new DiffQueue();
  /** What the fitter was given whole; null: all of it is to be sent. */
  #known: Character | null = null;
  /** Set whose fit is shown; null while nobody looks. */
  #watched: RecordId | null = null;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #isAsking = false;

  readonly #targets: Targets;

  /** @param targets - What work is priced by. */
  constructor(editor: Editor, targets: Targets) {
    this.#editor = editor;
    this.#targets = targets;
    editor.onDiff((diff) => this.#follow(diff));
  }

  /** Keeps the fit of a set up to date; of none with null. */
  watch(bodySetId: RecordId | null): void {
    if (bodySetId === this.#watched) return;
    this.#watched = bodySetId;
    if (bodySetId !== null) this.#askSoon(0);
  }

  /** Plays clips and looks what each body does on them. */
  async measureUse(bodySetId: RecordId, clips: readonly number[]): Promise<void> {
    const cores = countCores();
    const { pricing } = this.#targets.store.state;
    // One clip is shared among the cores by bodies, several by clips.
    const parts = clips.length === 1 ? cores : 1;
    const asked = clips.flatMap((clip) =>
      Array.from({ length: parts }, (_, index) => ({
        bodySetId,
        clip,
        part: { index, count: parts },
        pricing,
      })),
    );
    const found = await this.#simulate(
      clips.length === 1 ? 'Leaving out body by body' : `Leaving out body by body on ${clips.length} clips`,
      asked.map(
        (request): Job<BodyUse[]> =>
          (remote, onShare) =>
            remote.use(request, proxy(onShare)),
      ),
    );
    if (!found) return;
    this.store.set({
      use: {
        bodySetId,
        isOld: false,
        clips: clips.map((clip) => ({
          clip,
          uses: found.filter((_, i) => asked[i]!.clip === clip).flat(),
        })),
      },
    });
  }

  /** Plays a clip with the bodies of one set, and with those of another in their place. */
  async compare(usedSetId: RecordId, triedSetId: RecordId, clip: number): Promise<void> {
    const request = { usedSetId, triedSetIds: [usedSetId, triedSetId], clip };
    const { pricing } = this.#targets.store.state;
    const compare: Job<SetOnClip[]> = (remote, onShare) => remote.compare(request, pricing, proxy(onShare));
    const found = await this.#simulate('Playing the clip with both sets', [compare]);
    if (!found) return;
    const [used, tried] = found[0] as [SetOnClip, SetOnClip];
    this.store.set({ compared: { usedSetId, triedSetId, used, tried, isOld: false } });
  }

  /** Ends what is being simulated, at once; figures of before stay. */
  cancel(): void {
    for (const worker of this.#workers) worker.end();
    this.#workers = [];
    this.store.set({ task: null, share: 0, secondsLeft: null });
  }

  dispose(): void {
    this.cancel();
    if (this.#timer) clearTimeout(this.#timer);
    this.#fitter.end();
  }

  /** Does jobs in as many workers as there are cores. @returns Null when it was cancelled or failed, which is told. */
  async #simulate<T>(task: string, jobs: readonly Job<T>[]): Promise<T[] | null> {
    this.cancel();
    this.store.set({ task, share: 0, failure: null });
    const startedAt = performance.now();
    const { character, document } = this.#editor;
    const patch = toWholePatch(document);
    const workers = Array.from({ length: Math.min(jobs.length, countCores()) }, createCalls);
    this.#workers = workers;
    const shares = jobs.map(() => 0);
    const found: T[] = [];
    let next = 0;
    try {
      await Promise.all(
        workers.map(async (worker) => {
          await worker.call((remote) => remote.load(character, patch));
          for (let j = next++; j < jobs.length; j = next++) {
            const job = j;
            const onShare = (share: number): void => {
              shares[job] = share;
              if (workers !== this.#workers) return;
              const done = shares.reduce((sum, value) => sum + value, 0) / jobs.length;
              this.store.set({ share: done, secondsLeft: estimateLeft(startedAt, done) });
            };
            found[job] = await worker.call((remote) => jobs[job]!(remote, onShare));
            onShare(1);
          }
        }),
      );
      return workers === this.#workers ? found : null;
    } catch (error) {
      if (!(error instanceof Cancelled) && workers === this.#workers)
        this.store.set({ failure: (error as Error).message });
      return null;
    } finally {
      if (workers === this.#workers) this.cancel();
      else for (const worker of workers) worker.end();
    }
  }

  #follow(diff: DocumentDiff): void {
    const types = [...diff.records.values()].flatMap((pair) => pair.flatMap((record) => record?.type ?? []));
    const isBodies =
      diff.arrays.size === 0 && types.every((type) => ['body', 'bodyMesh', 'bodySet'].includes(type));
    if (isBodies) this.#waiting.push(diff);
    else this.#known = null;
    const { use, compared } = this.store.state;
    if (use && !use.isOld) this.store.set({ use: { ...use, isOld: true } });
    if (compared && !compared.isOld) this.store.set({ compared: { ...compared, isOld: true } });
    if (this.#watched !== null) this.#askSoon(WAIT_MS);
  }

  #askSoon(waitMs: number): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.store.set({ isFitting: true });
    this.#timer = setTimeout(() => void this.#ask(), waitMs);
  }

  async #ask(): Promise<void> {
    this.#timer = null;
    // What is under way asks again at its end.
    if (this.#isAsking) return;
    this.#isAsking = true;
    const bodySetId = this.#watched;
    try {
      if (bodySetId !== null) {
        const figures = await this.#fitter.call((remote) => {
          this.#tell(remote);
          return remote.fit(bodySetId);
        });
        this.store.set({ fit: { bodySetId, figures }, fitFailure: null });
      }
    } catch (error) {
      if (!(error instanceof Cancelled)) this.store.set({ fitFailure: (error as Error).message });
    } finally {
      this.#isAsking = false;
    }
    const isBehind = this.#known === null || !this.#waiting.isEmpty || bodySetId !== this.#watched;
    if (this.#timer) return;
    if (isBehind && this.#watched !== null && !this.store.state.fitFailure) this.#askSoon(0);
    else this.store.set({ isFitting: false });
  }

  /** Brings the fitter up to date. */
  #tell(remote: Remote<BodyFiguresLoop>): void {
    const { character, document } = this.#editor;
    if (this.#known !== character) {
      this.#waiting.take();
      this.#known = character;
      void remote.load(character, toWholePatch(document));
    } else if (!this.#waiting.isEmpty) void remote.patch(toPatch(this.#waiting.take()));
  }
}

function createCalls(): WorkerCalls<BodyFiguresLoop> {
  return new WorkerCalls(
    () => new Worker(new URL('../workers/body-figures.worker.ts', import.meta.url), { type: 'module' }),
  );
}
