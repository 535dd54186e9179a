import type { RecordId } from '../../core/document/index.ts';
import { compareValues, type PointSet } from '../../core/reach/index.ts';
import type { ReachOrderBody } from '../wire/suggestions.ts';
import { api } from './api.ts';
import type { Editor } from './editor.ts';
import type { Ordering } from './ordering.ts';
import type { ReachWork } from './reach-work.ts';
import { Store } from './store.ts';
import { isOpen, tellLeft } from './task-watch.ts';

interface SuggestingState {
  /** What is being done, in words; null when nothing is. */
  task: string | null;
  share: number;
  /** Seconds until it is done, when that can be told. */
  secondsLeft: number | null;
  failure: string | null;
}

const IDLE = { task: null, share: 0, secondsLeft: null } as const;

/** What this window has asked for: it takes it when it is there, even when it was reloaded meanwhile. */
interface Awaited {
  taskId: string;
  mapId: RecordId;
}

/** Asks the server for a first map of max distances. */
export class Suggesting {
  readonly store = new Store<SuggestingState>({ ...IDLE, failure: null });
  readonly #editor: Editor;
  readonly #reach: ReachWork;
  readonly #ordering: Ordering;
  #awaited: Awaited | null;
  #orders = 0;

  constructor(editor: Editor, reach: ReachWork, ordering: Ordering) {
    this.#editor = editor;
    this.#reach = reach;
    this.#ordering = ordering;
    this.#awaited = JSON.parse(sessionStorage.getItem(this.#key) ?? 'null') as Awaited | null;
    ordering.watch.store.subscribe(() => this.#follow());
  }

  /** Writes the suggestion into the map in use, as one step. The picked vertices are the seam when there are some. */
  async start(): Promise<void> {
    const painted = this.#reach.ensure('maxDistance');
    if (!painted) return;
    this.cancel();
    const order = ++this.#orders;
    this.store.set({ ...IDLE, task: 'Asking the server', failure: null });
    const { mask } = this.#reach;
    const wanted = {
      garmentId: painted.garment.id,
      seam: mask && toSeam(mask),
      clips: [...this.#editor.character.clips.keys()],
    };
    try {
      const task = await this.#ordering.order((id, seen) => api.orderReach(id, { ...wanted, seen }));
      // Another one was asked for, or none any more, meanwhile.
      if (order !== this.#orders) await this.#ordering.cancel(task.id);
      else this.#await({ taskId: task.id, mapId: painted.map.id });
    } catch (error) {
      if (order === this.#orders) this.store.set({ ...IDLE, failure: (error as Error).message });
    }
    this.#follow();
  }

  cancel(): void {
    this.#orders++;
    if (this.#awaited)
      // Where it has ended of itself meanwhile, there is nothing to end.
      this.#ordering.cancel(this.#awaited.taskId).catch(() => {});
    this.#await(null);
    this.store.set(IDLE);
  }

  get #key(): string {
    return `suggestion-of-${this.#ordering.characterId}`;
  }

  #await(awaited: Awaited | null): void {
    this.#awaited = awaited;
    if (awaited) sessionStorage.setItem(this.#key, JSON.stringify(awaited));
    else sessionStorage.removeItem(this.#key);
  }

  #follow(): void {
    const awaited = this.#awaited;
    const task = awaited && this.#ordering.find(awaited.taskId);
    if (!task) return;
    if (isOpen(task)) {
      this.store.set({
        task: task.state === 'queued' ? 'Waiting for a worker' : 'Simulating the clips',
        share: task.done / Math.max(1, task.total),
        secondsLeft: tellLeft(task),
      });
      return;
    }
    this.#await(null);
    if (task.state === 'done') void this.#take(awaited);
    else this.store.set({ ...IDLE, failure: task.error });
  }

  async #take({ taskId, mapId }: Awaited): Promise<void> {
    try {
      const { results } = await api.readReach(taskId);
      const values = Float32Array.from(results[0]?.values ?? []);
      const now = this.#editor.document.arrays.get(mapId);
      // Prepared anew meanwhile: the suggestion is for a mesh that is no more.
      if (now?.length !== values.length) throw new Error('The mesh changed meanwhile. Ask again.');
      this.#editor.paint('Suggest max distance', mapId, compareValues(now, values));
      this.store.set(IDLE);
    } catch (error) {
      this.store.set({ ...IDLE, failure: (error as Error).message });
    }
  }
}

function toSeam(mask: PointSet): NonNullable<ReachOrderBody['seam']> {
  return { count: mask.length, points: [...mask.keys()].filter((point) => mask[point]) };
}
