import { proxy } from 'comlink';
import { toWholePatch } from '../../core/document/index.ts';
import { compareValues } from '../../core/reach/index.ts';
import type { SuggestApi, SuggestRequest } from '../workers/suggest.worker.ts';
import type { Editor } from './editor.ts';
import type { ReachWork } from './reach-work.ts';
import { Store } from './store.ts';
import { Cancelled, WorkerCalls } from './worker-calls.ts';

/** Asks for a first map of max distances, in a worker that can be ended. */
export class Suggesting {
  /** `share` is null when nothing is being suggested. */
  readonly store = new Store<{ share: number | null; failure: string | null }>({
    share: null,
    failure: null,
  });
  readonly #editor: Editor;
  readonly #reach: ReachWork;
  readonly #calls = new WorkerCalls<SuggestApi>(
    () => new Worker(new URL('../workers/suggest.worker.ts', import.meta.url), { type: 'module' }),
  );

  constructor(editor: Editor, reach: ReachWork) {
    this.#editor = editor;
    this.#reach = reach;
  }

  /** Writes the suggestion into the map in use, as one step. The picked points are the seam when there are some. */
  start(): void {
    const painted = this.#reach.ensure('maxDistance');
    if (!painted) return;
    this.cancel();
    this.store.set({ share: 0, failure: null });
    const request: SuggestRequest = {
      character: this.#editor.character,
      patch: toWholePatch(this.#editor.document),
      garmentId: painted.garment.id,
      seam: this.#reach.mask,
    };
    const onProgress = proxy((share: number) => this.store.set({ share }));
    this.#calls
      .call((remote) => remote.suggest(request, onProgress))
      .then(
        (values) => {
          this.cancel();
          this.#take(painted.map.id, values);
        },
        (error: Error) => {
          if (error instanceof Cancelled) return;
          this.cancel();
          this.store.set({ failure: error.message });
        },
      );
  }

  cancel(): void {
    this.#calls.end();
    this.store.set({ share: null });
  }

  #take(mapId: Parameters<Editor['paint']>[1], values: Float32Array): void {
    const now = this.#editor.document.arrays.get(mapId);
    // Prepared anew meanwhile: the suggestion is for a mesh that is no more.
    if (now?.length === values.length)
      this.#editor.paint('Suggest max distance', mapId, compareValues(now, values));
    else this.store.set({ failure: 'The mesh changed meanwhile. Ask again.' });
  }
}
