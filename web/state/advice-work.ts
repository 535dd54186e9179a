import {
  type Advice,
  applyBudgetChanges,
  type BudgetChange,
  readAdvice,
  tellChange,
} from '../../core/advice/index.ts';
import { changesMotion, compareDocuments } from '../../core/document/index.ts';
import { readSimSettings } from '../../core/prepare/index.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { api } from './api.ts';
import type { Editor } from './editor.ts';
import type { Ordering } from './ordering.ts';
import type { SimMeshes } from './sim-meshes.ts';
import { Store } from './store.ts';
import { tryAction } from './try-action.ts';

interface AdviceState {
  /** What was found so far; null before anything was asked for. */
  advice: Advice | null;
  /** ms a frame that it is about, and the clips. */
  budget: number;
  clips: readonly number[];
  /** Something that moves was edited since: it is of before. */
  isOld: boolean;
  failure: string | null;
}

const NOTHING: AdviceState = { advice: null, budget: 0, clips: [], isOld: false, failure: null };

/** What to change first to get under the budget: ordered on the server, followed, applied. */
export class AdviceWork {
  readonly store = new Store<AdviceState>(NOTHING);
  readonly #editor: Editor;
  readonly #ordering: Ordering;
  readonly #simMeshes: Pick<SimMeshes, 'make'>;
  readonly #openedRevision: number;
  /** The task whose parts were read, and how many. */
  #read = { taskId: '', parts: -1 };

  /** @param openedRevision - Of the state that this page was opened with. */
  constructor(
    editor: Editor,
    ordering: Ordering,
    simMeshes: Pick<SimMeshes, 'make'>,
    openedRevision: number,
  ) {
    this.#openedRevision = openedRevision;
    this.#editor = editor;
    this.#ordering = ordering;
    this.#simMeshes = simMeshes;
    editor.onDiff((diff) => {
      if (this.store.state.advice && changesMotion(diff)) this.store.set({ isOld: true });
    });
    ordering.watch.store.subscribe(() => void this.#follow());
  }

  /** The newest of this character. */
  get task(): TaskEntry | null {
    return this.#ordering.findNewest('advice');
  }

  /** @param budget - ms a frame. */
  order(clips: readonly number[], budget: number): Promise<void> {
    return tryAction(this.store, async () => {
      this.store.set({ ...NOTHING, budget, clips });
      await this.#ordering.order((id, seen) => api.orderAdvice(id, { clips, budget, seen }));
    });
  }

  stop(): Promise<void> {
    return tryAction(this.store, async () => {
      if (this.task) await this.#ordering.cancel(this.task.id);
    });
  }

  /** Does changes, as one step. @throws {Error} With the reason when one cannot be done; then nothing is changed. */
  async apply(label: string, changes: readonly BudgetChange[]): Promise<void> {
    const editor = this.#editor;
    const [meshes, others] = [
      changes.filter((change) => change.kind === 'simMesh'),
      changes.filter((change) => change.kind !== 'simMesh'),
    ];
    const before = editor.newestStep;
    editor.mark();
    editor.beginStroke();
    try {
      const { document, character } = editor;
      editor.change(
        label,
        compareDocuments(document, applyBudgetChanges(character, document, others).document),
      );
      for (const { garmentId, edgeLength } of meshes) {
        const garment = editor.document.records.get(garmentId);
        if (garment?.type !== 'garment') throw new Error('The garment is not there any more');
        const { borderDetail, sides } = readSimSettings(editor.document, garment, edgeLength);
        await this.#simMeshes.make(garment, { edgeLength, borderDetail, sides });
      }
    } catch (error) {
      editor.endStroke();
      if (editor.newestStep !== before) editor.undo();
      throw error;
    }
    editor.endStroke();
    editor.mark();
  }

  /** A change, or several, in words. */
  tell(changes: readonly BudgetChange[]): string[] {
    return changes.map((change) => tellChange(this.#editor.document, change));
  }

  async #follow(): Promise<void> {
    const { task } = this;
    if (!task) return;
    const { id: taskId, partsDone: parts } = task;
    if (this.#read.taskId === taskId && this.#read.parts === parts) {
      if (task.state === 'failed') this.store.set({ failure: task.error });
      return;
    }
    // What was ordered before this page was opened may be of an earlier state.
    const isOfNow = this.#read.taskId === taskId || task.revision >= this.#openedRevision;
    this.#read = { taskId, parts };
    try {
      const { request, results } = await api.readAdvice(taskId);
      // An answer that comes late knows less than the one that is asked for meanwhile.
      if (this.#read.taskId !== taskId || this.#read.parts !== parts) return;
      const clips = request.cases.flatMap(({ motion }) => (motion.kind === 'clip' ? [motion.clip] : []));
      const advice = readAdvice(results, new Map(request.limits), request.budget);
      this.store.set({ advice, clips, budget: request.budget, ...(!isOfNow && { isOld: true }) });
    } catch (error) {
      this.store.set({ failure: (error as Error).message });
    }
  }
}
