import {
  createDiff,
  type DocumentDiff,
  type GarmentRecord,
  type Limits,
  listGarments,
} from '../../core/document/index.ts';
import {
  changeVariables,
  describeVariable,
  readVariable,
  type SearchVariable,
  toValue,
  type VariableKey,
} from '../../core/search/index.ts';
import type { Candidate, SearchState, TaskEntry } from '../wire/trials.ts';
import { api } from './api.ts';
import type { Editor } from './editor.ts';
import type { Ordering } from './ordering.ts';
import { Store } from './store.ts';
import { tryAction } from './try-action.ts';

export interface SearchChoice {
  variables: readonly SearchVariable[];
  clips: readonly number[];
  runs: number;
  /** In place of those of the garment, for this search. */
  limits: Limits;
  /** ms a frame; null for none. */
  budget: number | null;
}

interface SearchWorkState {
  /** What the newest search has found; null before there is one. */
  found: SearchState | null;
  taskId: string | null;
  /** Index of the candidate that is on the character for a look. */
  looked: number | null;
  failure: string | null;
}

/** How far a number may move at first, down and up, as shares of its range. */
const USUAL_SPAN = 0.25;

/** Searches for settings on the server: ordered, followed, looked at, taken over. */
export class SearchWork {
  readonly store = new Store<SearchWorkState>({ found: null, taskId: null, looked: null, failure: null });
  readonly #editor: Editor;
  readonly #ordering: Ordering;
  /** Puts a change on the character for a look; null takes it off. */
  readonly #show: (diff: DocumentDiff | null) => void;
  #done = -1;

  constructor(editor: Editor, ordering: Ordering, show: (diff: DocumentDiff | null) => void) {
    this.#editor = editor;
    this.#ordering = ordering;
    this.#show = show;
    ordering.watch.store.subscribe(() => void this.#follow());
  }

  /** The newest search of this character. */
  get task(): TaskEntry | null {
    return this.#ordering.findNewest('search');
  }

  order(garment: GarmentRecord, { variables, clips, runs, limits, budget }: SearchChoice): Promise<void> {
    return tryAction(this.store, async () => {
      this.look(null);
      const motions = clips.map((clip) => ({ kind: 'clip', clip }) as const);
      const wanted = { garmentId: garment.id, variables, motions, runs, seed: 1, limits, budget };
      const task = await this.#ordering.order((id, seen) => api.orderSearch(id, { ...wanted, seen }));
      this.store.set({ found: null, taskId: task.id });
    });
  }

  stop(): Promise<void> {
    return tryAction(this.store, async () => {
      if (this.task) await this.#ordering.cancel(this.task.id);
    });
  }

  /** Puts a candidate on the character, without changing anything; null takes it off. */
  look(index: number | null): void {
    const diff = index === null ? null : this.#toDiff(index);
    this.#show(diff);
    this.store.set({ looked: diff && index });
  }

  /** Takes a candidate over, as one step. */
  take(index: number): void {
    const diff = this.#toDiff(index);
    this.look(null);
    if (diff) this.#editor.change('Take settings of the search', diff);
  }

  /** Its settings, of each number that may move. */
  readValues({ point }: Candidate): { key: VariableKey; value: number }[] {
    const { variables } = this.store.state.found!.request;
    return variables.map((each, v) => ({ key: each.key, value: toValue(each, point[v]!) }));
  }

  #toDiff(index: number): DocumentDiff | null {
    const { found } = this.store.state;
    const candidate = found?.results[index];
    const { document } = this.#editor;
    const garment = listGarments(document).find(({ id }) => id === found?.request.garmentId);
    if (!found || !candidate || !garment) return null;
    const values = this.readValues(candidate).map(({ value }) => value);
    const { records, arrays } = changeVariables(document, garment, found.request.variables, values);
    const diff = createDiff();
    for (const [id, record] of records) diff.records.set(id, [document.records.get(id)!, record]);
    for (const [id, after] of arrays) diff.arrays.set(id, { before: document.arrays.get(id)!, after });
    return diff;
  }

  /** Reads what was found since; also of a search that was ordered before this page was opened. */
  async #follow(): Promise<void> {
    const { task } = this;
    if (!task || (task.id === this.store.state.taskId && task.partsDone === this.#done)) return;
    this.#done = task.partsDone;
    try {
      const found = await api.readSearch(task.id);
      // An answer that comes late knows less than the one that is asked for meanwhile.
      if (this.task?.id !== task.id || this.#done !== task.partsDone) return;
      const isOther = task.id !== this.store.state.taskId;
      this.store.set({ found, taskId: task.id, ...(isOther && { looked: null }) });
    } catch {
      // The next change tells.
    }
  }
}

/** A number that may move about where it is now. */
export function suggestBounds(
  editor: Pick<Editor, 'document'>,
  garment: GarmentRecord,
  key: VariableKey,
): SearchVariable {
  const { range, isLogarithmic } = describeVariable(key);
  const now = readVariable(editor.document, garment, key);
  if (isLogarithmic && now > 0)
    return { key, low: Math.max(range[0], now / 4), high: Math.min(range[1], 4 * now) };
  const span = USUAL_SPAN * (range[1] - range[0]);
  return { key, low: Math.max(range[0], now - span), high: Math.min(range[1], now + span) };
}
