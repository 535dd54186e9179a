import {
  FRAME_HEAD,
  type FrameLayout,
  getFrameOffset,
  HEADER,
  type PreviewReply,
  type PreviewRequest,
  type PreviewStats,
} from '../workers/preview-protocol.ts';
import { Store } from './store.ts';

/** A finished frame in shared memory: views, valid until the next but one frame is finished. */
export interface PreviewFrame {
  count: number;
  /** Index of the clip, -1 for the bind pose. */
  clip: number;
  time: number;
  layout: FrameLayout;
  /** The frame's floats; see `FrameLayout`. */
  floats: Float32Array;
}

export interface PreviewState {
  /** Null until the first frame. */
  layout: FrameLayout | null;
  stats: PreviewStats | null;
  failure: string | null;
}

/** The page's end of the preview worker. */
export class PreviewClient {
  readonly store = new Store<PreviewState>({ layout: null, stats: null, failure: null });
  /** Per clip, [x, z] metres travelled in one round. */
  travels: [number, number][] = [];
  /** Bodies by their numbers in the rows of contacts. */
  bodyIds: readonly string[] = [];
  readonly #worker: Worker;
  #header: Int32Array = new Int32Array(HEADER.length);
  #floats: Float32Array = new Float32Array(0);
  #layout: FrameLayout | null = null;

  constructor() {
    this.#worker = new Worker(new URL('../workers/preview.worker.ts', import.meta.url), { type: 'module' });
    this.#worker.onmessage = ({ data }: MessageEvent<PreviewReply>) => this.#receive(data);
    this.#worker.onerror = (event) =>
      this.store.set({ failure: event.message || 'The preview could not be started.' });
  }

  send(request: PreviewRequest): void {
    this.#worker.postMessage(request);
  }

  /** The newest finished frame, or null before the first. */
  readFrame(): PreviewFrame | null {
    const layout = this.#layout;
    if (!layout) return null;
    const count = Atomics.load(this.#header, HEADER.count);
    const start = getFrameOffset(layout, Atomics.load(this.#header, HEADER.newest));
    return {
      count,
      clip: Atomics.load(this.#header, HEADER.clip),
      time: this.#floats[start + FRAME_HEAD.time]!,
      layout,
      floats: this.#floats.subarray(start + FRAME_HEAD.length, start + FRAME_HEAD.length + layout.size),
    };
  }

  dispose(): void {
    this.#worker.terminate();
  }

  #receive(reply: PreviewReply): void {
    switch (reply.kind) {
      case 'frames':
        this.#header = new Int32Array(reply.buffer, 0, HEADER.length);
        this.#floats = new Float32Array(reply.buffer);
        this.#layout = reply.layout;
        this.travels = reply.travels;
        this.store.set({ layout: reply.layout, failure: null });
        break;
      case 'bodies':
        this.bodyIds = reply.ids;
        break;
      case 'stats':
        this.store.set({ stats: reply.stats });
        break;
      case 'failed':
        this.store.set({ failure: reply.message });
        break;
    }
  }
}
