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
import { FoundResults } from './found-results.ts';
import type { Ordering } from './ordering.ts';
import type { Preparing } from './preparing.ts';
import { nameOf } from './step-changes.ts';
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

/** Steps of preparation that changes may need. */
type PreparingSteps = Pick<Preparing, 'addStep'> & { simMeshes: Pick<Preparing['simMeshes'], 'make'> };

const NOTHING: AdviceState = { advice: null, budget: 0, clips: [], isOld: false, failure: null };

/** What to change first to get under the budget: ordered on the server, followed, applied. */
export class AdviceWork {
  readonly store = new Store<AdviceState>(NOTHING);
  readonly #editor: Editor;
  readonly #ordering: Ordering;
  readonly #results: FoundResults<unknown>;
  readonly #preparing: PreparingSteps;

  /** @param openedRevision - Of the state that this page was opened with. */
  constructor(editor: Editor, ordering: Ordering, preparing: PreparingSteps, openedRevision: number) {
    this.#editor = editor;
    this.#ordering = ordering;
    this.#preparing = preparing;
    editor.onDiff((diff) => {
      if (this.store.state.advice && changesMotion(diff)) this.store.set({ isOld: true });
    });
    this.#results = new FoundResults(ordering, {
      kind: 'advice',
      openedRevision,
      read: (taskId) => api.readAdvice(taskId),
      take: ({ request, results }, isOfNow) => {
        const clips = request.cases.flatMap(({ motion }) => (motion.kind === 'clip' ? [motion.clip] : []));
        const advice = readAdvice(results, new Map(request.limits), request.budget);
        this.store.set({ advice, clips, budget: request.budget, ...(!isOfNow && { isOld: true }) });
      },
      fail: (failure) => this.store.set({ failure }),
    });
  }

  /** The newest of this character. */
  get task(): TaskEntry | null {
    return this.#results.task;
  }

  /** @param budget - ms a frame. */
  order(clips: readonly number[], budget: number): Promise<void> {
    return tryAction(this.store, async () => {
      this.store.set({ ...NOTHING, budget, clips });
      await this.#ordering.order((id, seen) => api.orderAdvice(id, { clips, budget, seen }));
    });
  }

  stop(): Promise<void> {
    return tryAction(this.store, () => this.#results.stop());
  }

  /** Does changes, as one step. @throws {Error} With the reason when one cannot be done; then nothing is changed. */
  async apply(label: string, changes: readonly BudgetChange[]): Promise<void> {
    const editor = this.#editor;
    const [meshes, others] = [
      changes.filter((change) => change.kind === 'simMesh' || change.kind === 'joinRows'),
      changes.filter((change) => change.kind !== 'simMesh' && change.kind !== 'joinRows'),
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
      for (const change of meshes) {
        const garment = editor.document.records.get(change.garmentId);
        if (garment?.type !== 'garment') throw new Error('The garment is not there any more');
        if (change.kind === 'joinRows') {
          await this.#preparing.addStep(label, nameOf(garment), { kind: 'joinRows' });
          continue;
        }
        const { edgeLength } = change;
        const { borderDetail, sides } = readSimSettings(editor.document, garment, edgeLength);
        await this.#preparing.simMeshes.make(garment, { edgeLength, borderDetail, sides });
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
}
