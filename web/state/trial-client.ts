import { type DocumentDiff, toPatch } from '../../core/document/index.ts';
import type { SharedSection } from '../../core/rig/index.ts';
import type { TrialFrame } from '../../core/trials/index.ts';
import type { TrialReply, TrialRequest } from '../workers/trial.worker.ts';
import { DiffQueue } from './diff-queue.ts';
import { Store } from './store.ts';

export interface TrialState {
  /** Clip that the frames belong to; null when nothing is measured. */
  clip: number | null;
  frames: readonly TrialFrame[];
  isRunning: boolean;
  failure: string | null;
  /** Rises with each finished trial. */
  finished: number;
}

/** A trial begins so long after the last change: not for every dab of a stroke. */
const WAIT_MS = 600;

/** Rows under way are shown so often. */
const SHOW_EVERY_MS = 250;

/** The page's end of the trial worker: keeps the rows of the reel measured for the clip and document of now. */
export class TrialClient {
  readonly store = new Store<TrialState>({
    clip: null,
    frames: [],
    isRunning: false,
    failure: null,
    finished: 0,
  });
  readonly #worker: Worker;
  /** Changes that the next trial is to know. */
  readonly #waiting = new DiffQueue();
  #sections: readonly SharedSection[] | null = null;
  #token = 0;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #collected: TrialFrame[] = [];
  #shownAt = 0;

  constructor() {
    this.#worker = new Worker(new URL('../workers/trial.worker.ts', import.meta.url), { type: 'module' });
    this.#worker.onmessage = ({ data }: MessageEvent<TrialReply>) => this.#receive(data);
  }

  send(request: TrialRequest): void {
    this.#worker.postMessage(request);
  }

  /** Takes a change over: it is sent with the next trial. @param sections - Of another preparation, when it came with one. */
  follow(diff: DocumentDiff, sections: readonly SharedSection[] | null): void {
    this.#waiting.push(diff);
    if (sections) this.#sections = sections;
  }

  #sendChanges(): void {
    if (this.#waiting.isEmpty && !this.#sections) return;
    const sections = this.#sections;
    this.#sections = null;
    this.send({ kind: 'patch', patch: toPatch(this.#waiting.take()), ...(sections && { sections }) });
  }

  /** Measures a clip soon; the rows are replaced from left to right as it goes. */
  measure(clip: number | null, waitMs = WAIT_MS): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#token++;
    if (clip === null) {
      if (this.store.state.clip === null) return;
      this.send({ kind: 'measure', clip: null, token: this.#token });
      this.store.set({ clip: null, frames: [], isRunning: false });
      return;
    }
    if (this.store.state.clip !== clip) this.store.set({ clip, frames: [] });
    this.store.set({ isRunning: true });
    this.#timer = setTimeout(() => {
      this.#collected = [];
      this.#sendChanges();
      this.send({ kind: 'measure', clip, token: this.#token });
    }, waitMs);
  }

  dispose(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#worker.terminate();
  }

  #receive(reply: TrialReply): void {
    if (reply.token !== this.#token) return;
    if (reply.kind === 'failed') {
      this.store.set({ isRunning: false, failure: reply.message });
      return;
    }
    this.#collected.push(...reply.frames);
    if (reply.isDone) {
      const { finished } = this.store.state;
      this.store.set({ frames: this.#collected, isRunning: false, failure: null, finished: finished + 1 });
      return;
    }
    const now = performance.now();
    const last = this.#collected.at(-1);
    if (!last || now - this.#shownAt < SHOW_EVERY_MS) return;
    this.#shownAt = now;
    // What is not measured anew yet stays as it was.
    const older = this.store.state.frames.filter(({ time }) => time > last.time);
    this.store.set({ frames: [...this.#collected, ...older] });
  }
}
