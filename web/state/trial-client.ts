import { proxy, type Remote } from 'comlink';
import { type DocumentDiff, toPatch, toWholePatch } from '../../core/document/index.ts';
import type { Rig, SharedSection } from '../../core/rig/index.ts';
import { type CompiledEntry, type RunWork, sumWork } from '../../core/run/index.ts';
import {
  type CaseFrame,
  type CaseRows,
  priceFrames,
  priceRows,
  sumCaseWork,
  type TrialFrame,
  toFrames,
} from '../../core/trials/index.ts';
import type { TrialApi } from '../workers/trial.worker.ts';
import { DiffQueue } from './diff-queue.ts';
import type { Editor } from './editor.ts';
import type { Prepared } from './step-changes.ts';
import { Store } from './store.ts';
import type { Targets } from './targets.ts';
import { Cancelled, WorkerCalls } from './worker-calls.ts';

export interface TrialState {
  /** Clip that the frames belong to; null when nothing is measured. */
  clip: number | null;
  frames: readonly CaseFrame[];
  isRunning: boolean;
  failure: string | null;
  /** All that was done in the clip; null while it is not measured whole, or was before work was counted. */
  work: RunWork | null;
  /** Rises with each finished trial. */
  finished: number;
}

/** A trial begins so long after the last change: not for every dab of a stroke. */
const WAIT_MS = 400;

/** Rows under way are shown so often. */
const SHOW_EVERY_MS = 250;

/** The page's end of the trial worker: keeps the rows of the reel measured for the clip and document of now. */
export class TrialClient {
  readonly store = new Store<TrialState>({
    clip: null,
    frames: [],
    isRunning: false,
    failure: null,
    work: null,
    finished: 0,
  });
  readonly #calls: WorkerCalls<TrialApi>;
  /** Changes that the next trial is to know. */
  readonly #waiting = new DiffQueue();
  #sections: readonly SharedSection[] | null = null;
  #rig: Rig | null = null;
  readonly #compiled: CompiledEntry[] = [];
  #token = 0;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #collected: TrialFrame[] = [];
  /** What was looked at roughly, of the whole clip. */
  #glances: TrialFrame[] = [];
  #shownAt = 0;
  /** What is shown, when it was measured elsewhere. */
  #adopted: CaseRows | null = null;

  readonly #targets: Targets;

  /** @param targets - What work is priced by. */
  constructor(editor: Pick<Editor, 'character' | 'document'>, targets: Targets) {
    this.#targets = targets;
    targets.store.subscribe(() => this.#price());
    this.#calls = new WorkerCalls<TrialApi>(
      () => new Worker(new URL('../workers/trial.worker.ts', import.meta.url), { type: 'module' }),
      (remote) => {
        // A new worker is given all of it, as it is now.
        this.#waiting.take();
        this.#sections = null;
        this.#rig = null;
        this.#compiled.length = 0;
        void remote.load(editor.character, toWholePatch(editor.document));
      },
    );
  }

  /** Takes a change over: it is sent with the next trial. @param prepared - Another preparation, when it came with one. */
  follow(diff: DocumentDiff, prepared: Prepared | null = null): void {
    if (!this.#calls.isStarted) return;
    this.#waiting.push(diff);
    if (!prepared) return;
    this.#sections = prepared.sections;
    this.#rig = prepared.rig ?? this.#rig;
    this.#compiled.push(...prepared.compiled);
  }

  /** Measures a clip soon; the rows are replaced from left to right as it goes. */
  measure(clip: number | null, waitMs = WAIT_MS): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#token++;
    if (clip === null) {
      if (this.store.state.clip === null) return;
      void this.#calls.call((remote) => remote.stop());
      this.store.set({ clip: null, frames: [], isRunning: false, work: null });
      return;
    }
    if (this.store.state.clip !== clip) this.store.set({ clip, frames: [] });
    this.store.set({ isRunning: true, work: null });
    this.#timer = setTimeout(() => void this.#run(clip, this.#token), waitMs);
  }

  /** Takes over what was measured elsewhere of the document as it is now; nothing is measured then. */
  adopt(clip: number, rows: CaseRows): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#token++;
    if (this.#calls.isStarted) void this.#calls.call((remote) => remote.stop());
    const finished = this.store.state.finished + 1;
    this.#adopted = rows;
    this.store.set({ clip, isRunning: false, failure: null, finished, work: sumCaseWork(rows) });
    this.#price();
  }

  dispose(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#calls.end();
  }

  async #run(clip: number, token: number): Promise<void> {
    this.#collected = [];
    this.#glances = [];
    this.#adopted = null;
    const onFrames = proxy((frames: TrialFrame[]) => {
      if (token === this.#token) this.#collect(frames);
    });
    try {
      const isDone = await this.#calls.call(async (remote) => {
        this.#sendChanges(remote);
        return remote.measure(clip, this.#targets.store.state.pricing, onFrames);
      });
      if (!isDone || token !== this.#token) return;
      const finished = this.store.state.finished + 1;
      const work = sumWork(this.#collected.map((frame) => frame.work));
      this.store.set({ frames: this.#collected, isRunning: false, failure: null, finished, work });
    } catch (error) {
      if (error instanceof Cancelled || token !== this.#token) return;
      this.store.set({ isRunning: false, failure: (error as Error).message });
    }
  }

  /** Prices anew what is shown. */
  #price(): void {
    const { pricing } = this.#targets.store.state;
    if (this.#adopted) this.store.set({ frames: toFrames(priceRows(this.#adopted, pricing)) });
    else if (this.store.state.work) {
      this.#collected = priceFrames(this.#collected, pricing);
      this.store.set({ frames: this.#collected });
    }
  }

  #sendChanges(remote: Remote<TrialApi>): void {
    if (this.#waiting.isEmpty && !this.#sections) return;
    void remote.patch(toPatch(this.#waiting.take()), this.#sections, this.#rig, this.#compiled.splice(0));
    this.#sections = null;
    this.#rig = null;
  }

  #collect(frames: readonly TrialFrame[]): void {
    const wasLooking = this.#collected.length === 0;
    for (const frame of frames) (frame.isGlance ? this.#glances : this.#collected).push(frame);
    const now = performance.now();
    // The whole course is there: it is shown at once.
    const isAllLookedAt = wasLooking && this.#collected.length > 0 && this.#glances.length > 0;
    if (!isAllLookedAt && now - this.#shownAt < SHOW_EVERY_MS) return;
    this.#shownAt = now;
    // What is not measured anew yet is as it was looked at, or else stays as it was.
    const after = (known: readonly CaseFrame[]): number => known.at(-1)?.time ?? -1;
    const measured = after(this.#collected);
    const glances = this.#glances.filter(({ time }) => time > measured);
    const known = Math.max(measured, after(glances));
    const older = this.store.state.frames.filter(({ time }) => time > known);
    this.store.set({ frames: [...this.#collected, ...glances, ...older] });
  }
}
