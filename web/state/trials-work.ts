import type { Pricing } from '../../core/cost/index.ts';
import type { AuthoredDocument } from '../../core/document/index.ts';
import { listGarments } from '../../core/document/index.ts';
import { type CaseRows, listCases, priceRows, type TrialCase, unpackTrial } from '../../core/trials/index.ts';
import { splitParts } from '../wire/trial-bytes.ts';
import type { TaskEntry, TrialEntry } from '../wire/trials.ts';
import { api, type CharacterInfo } from './api.ts';
import type { Editor } from './editor.ts';
import type { Saver } from './saver.ts';
import { sendSeen } from './send-seen.ts';
import { Store } from './store.ts';
import type { Targets } from './targets.ts';
import { isOpen, type TaskWatch } from './task-watch.ts';
import { chooseAll, choosePlain, type TrialChoice, toPlan } from './trial-choice.ts';
import { tryAction } from './try-action.ts';

/** A trial with every value of every frame. */
export interface LoadedTrial {
  id: string;
  cases: readonly TrialCase[];
  rows: readonly CaseRows[];
}

export interface TrialsState {
  /** The newest first. */
  trials: readonly TrialEntry[];
  isListed: boolean;
  shown: LoadedTrial | null;
  /** An earlier one beside it. */
  earlier: LoadedTrial | null;
  /** What was edited from the earlier one to the one that is shown, in words. */
  changes: readonly string[] | null;
  choice: TrialChoice;
  /** Whether one begins by itself after edits. */
  isAutomatic: boolean;
  /** Why the last thing asked for was not done. */
  failure: string | null;
}

export interface TrialsOptions {
  watch: TaskWatch;
  targets: Targets;
  /** What is on the screen is an earlier state, which nothing is ordered of. */
  isOff?: boolean;
}

/** After the last edit that moves anything, one begins by itself. */
const AUTOMATIC_AFTER_MS = 20_000;
const AUTOMATIC_KEY = 'trials-by-themselves';
/** Trials that are kept when others are looked at. */
const MOST_LOADED = 6;

/** Trials of a character on the server: ordered, followed, shown, compared. */
export class TrialsWork {
  readonly store: Store<TrialsState>;
  readonly watch: TaskWatch;
  readonly #targets: Targets;
  /** What those that are loaded are priced by. */
  #priced: Pricing | null = null;
  readonly #editor: Pick<Editor, 'character' | 'document'>;
  readonly #saver: Saver;
  readonly #info: Pick<CharacterInfo, 'id' | 'source'>;
  readonly #loaded = new Map<string, Promise<LoadedTrial>>();
  /** Tasks that had not ended when last heard of. */
  #open: ReadonlySet<string> = new Set();
  /** Rises with every edit that moves anything. */
  #moves = 0;
  /** Trials that this page has ordered: when, by `#moves`, and what they play. */
  readonly #ordered = new Map<string, { moves: number; cases: readonly TrialCase[] }>();
  #partsDone = 0;
  #onPart: () => void = () => {};
  #timer: ReturnType<typeof setTimeout> | null = null;
  /** What is on the screen is an earlier state, which nothing is ordered of. */
  readonly #isOff: boolean;

  constructor(
    editor: Pick<Editor, 'character' | 'document'>,
    saver: Saver,
    info: Pick<CharacterInfo, 'id' | 'source'>,
    { watch, targets, isOff = false }: TrialsOptions,
  ) {
    this.#isOff = isOff;
    this.#editor = editor;
    this.#saver = saver;
    this.#info = info;
    this.store = new Store<TrialsState>({
      trials: [],
      isListed: false,
      shown: null,
      earlier: null,
      changes: null,
      choice: chooseAll(editor.character),
      isAutomatic: localStorage.getItem(AUTOMATIC_KEY) !== 'off',
      failure: null,
    });
    this.watch = watch;
    this.#targets = targets;
    this.watch.store.subscribe(() => this.#follow());
    targets.store.subscribe(() => this.#price());
  }

  /** Begins to follow what the server does. @returns When trials are listed. */
  async open(): Promise<void> {
    this.watch.open();
    await tryAction(this.store, () => this.refresh());
  }

  /** Trials of this character that have not ended, the newest first. */
  listOpen(tasks: readonly TaskEntry[]): TaskEntry[] {
    return tasks.filter(
      (task) => task.kind === 'trial' && task.characterId === this.#info.id && isOpen(task),
    );
  }

  /** An edit that moves something: no trial fits until the server says so again. */
  noteMove(): void {
    this.#moves++;
    const { trials } = this.store.state;
    if (trials.some(({ fits }) => fits))
      this.store.set({ trials: trials.map((trial) => ({ ...trial, fits: false })) });
    this.#schedule();
  }

  setAutomatic(isAutomatic: boolean): void {
    localStorage.setItem(AUTOMATIC_KEY, isAutomatic ? 'on' : 'off');
    this.store.set({ isAutomatic });
    if (!isAutomatic && this.#timer) clearTimeout(this.#timer);
  }

  choose(change: Partial<TrialChoice>): void {
    this.store.set({ choice: { ...this.store.state.choice, ...change } });
  }

  /** Orders a trial of what is on the screen. */
  order(): Promise<void> {
    return tryAction(this.store, () => this.#order(this.store.state.choice, false));
  }

  cancel(task: TaskEntry): Promise<void> {
    return tryAction(this.store, async () => this.watch.put(await api.cancelTask(task.id)));
  }

  /** Lists trials anew, and shows the newest when none is shown. */
  async refresh(): Promise<void> {
    const moves = this.#moves;
    const { trials } = await api.listTrials(this.#info.id);
    // What was edited meanwhile is not in it.
    const isOfNow = moves === this.#moves && this.#saver.state.kind === 'saved';
    this.store.set({
      trials: isOfNow ? trials : trials.map((trial) => ({ ...trial, fits: false })),
      isListed: true,
    });
    const { shown } = this.store.state;
    const isGone = shown && !trials.some(({ id }) => id === shown.id);
    if ((!shown || isGone) && trials[0]) await this.show(trials[0].id);
    else if (isGone) this.store.set({ shown: null, earlier: null, changes: null });
  }

  show(id: string): Promise<void> {
    return tryAction(this.store, async () => {
      this.store.set({ shown: await this.#load(id) });
      await this.#compare(this.store.state.earlier?.id ?? null);
    });
  }

  /** @param id - Null: none beside it. */
  compareWith(id: string | null): Promise<void> {
    return tryAction(this.store, () => this.#compare(id));
  }

  /** Deletes trials. */
  remove(ids: readonly string[]): Promise<void> {
    return tryAction(this.store, async () => {
      await api.removeTrials(this.#info.id, ids);
      const { earlier } = this.store.state;
      if (earlier && ids.includes(earlier.id)) await this.#compare(null);
      await this.refresh();
    });
  }

  /** What the newest trial that fits what is on the screen measured of a clip as everything is set, also one under way; null without one. */
  async findRows(clip: number): Promise<CaseRows | null> {
    const moves = this.#moves;
    const found = (await this.#findUnderWay(clip)) ?? (await this.#findMade(clip));
    return moves === this.#moves ? found : null;
  }

  /** Told when a part of a trial that fits what is on the screen is done. */
  onPart(listener: () => void): void {
    this.#onPart = listener;
  }

  async #findUnderWay(clip: number): Promise<CaseRows | null> {
    for (const task of this.listOpen(this.watch.store.state.tasks)) {
      const ordered = this.#ordered.get(task.id);
      if (!ordered || ordered.moves !== this.#moves || task.partsDone === 0) continue;
      const index = ordered.cases.findIndex((each) => isPlain(each, clip));
      // Ended meanwhile: it is a trial soon.
      const bytes = index >= 0 ? await api.readTaskPart(task.id, index).catch(() => null) : null;
      if (bytes) return this.#unpack(bytes)[0]!;
    }
    return null;
  }

  async #findMade(clip: number): Promise<CaseRows | null> {
    for (const { id, fits } of this.store.state.trials) {
      if (!fits) continue;
      const { cases, rows } = await this.#load(id);
      const index = cases.findIndex((each) => isPlain(each, clip));
      if (index >= 0) return rows[index]!;
    }
    return null;
  }

  dispose(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.watch.close();
  }

  async #order(choice: TrialChoice, isAutomatic: boolean): Promise<void> {
    const plan = toPlan(this.#editor.character, choice);
    const moves = this.#moves;
    const task = await sendSeen(this.#saver, this.#info, (seen) =>
      api.orderTrial(this.#info.id, { plan, isAutomatic, seen }),
    );
    // Edits that were made while it was sent may be in it or not.
    if (moves === this.#moves) this.#ordered.set(task.id, { moves, cases: listCases(plan) });
    this.watch.put(task);
  }

  #schedule(): void {
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#isOff) return;
    this.#timer = setTimeout(() => {
      const { document, character } = this.#editor;
      if (!this.store.state.isAutomatic || !isWorthTrying(document, character.clips.length)) return;
      // What cannot be saved now, or was changed in another window, is told of elsewhere; the next edit brings another one.
      this.#order(choosePlain(character), true).catch(() => {});
    }, AUTOMATIC_AFTER_MS);
  }

  async #compare(id: string | null): Promise<void> {
    const { shown } = this.store.state;
    if (!id || !shown || id === shown.id) {
      this.store.set({ earlier: null, changes: null });
      return;
    }
    const [earlier, { changes }] = await Promise.all([this.#load(id), api.readTrialChanges(shown.id, id)]);
    this.store.set({ earlier, changes });
  }

  #load(id: string): Promise<LoadedTrial> {
    const known = this.#loaded.get(id) ?? this.#read(id);
    this.#loaded.delete(id);
    this.#loaded.set(id, known);
    known.catch(() => this.#loaded.delete(id));
    for (const old of [...this.#loaded.keys()].slice(0, -MOST_LOADED)) this.#loaded.delete(old);
    return known;
  }

  async #read(id: string): Promise<LoadedTrial> {
    const [{ cases }, bytes] = await Promise.all([api.readTrial(id), api.readTrialRows(id)]);
    return { id, cases, rows: this.#unpack(bytes) };
  }

  #unpack(bytes: ArrayBuffer): CaseRows[] {
    const { measured, machine } = splitParts(new Uint8Array(bytes));
    return unpackTrial(measured, machine, this.#targets.store.state.pricing);
  }

  /** Prices what is loaded anew. */
  #price(): void {
    const { pricing } = this.#targets.store.state;
    if (pricing === this.#priced) return;
    this.#priced = pricing;
    this.#loaded.clear();
    const price = (trial: LoadedTrial | null): LoadedTrial | null =>
      trial && { ...trial, rows: trial.rows.map((rows) => priceRows(rows, pricing)) };
    const { shown, earlier } = this.store.state;
    this.store.set({ shown: price(shown), earlier: price(earlier) });
  }

  /** One that has ended is a trial now. */
  #follow(): void {
    const { tasks } = this.watch.store.state;
    const underWay = this.listOpen(tasks);
    const open = new Set(underWay.map(({ id }) => id));
    const partsDone = underWay.reduce(
      (sum, { id, partsDone: count }) => sum + (this.#ordered.get(id)?.moves === this.#moves ? count : 0),
      0,
    );
    const isMore = partsDone > this.#partsDone;
    this.#partsDone = partsDone;
    if (isMore) this.#onPart();
    const ended = [...this.#open].filter((id) => !open.has(id));
    this.#open = open;
    const done = tasks.filter(({ id, state }) => ended.includes(id) && state === 'done');
    if (done.length === 0) return;
    void tryAction(this.store, async () => {
      await this.refresh();
      const newest = this.store.state.trials.find(({ id }) => done.some((task) => task.id === id));
      if (newest) await this.show(newest.id);
    });
  }
}

/** Whether a case plays a clip as everything is set. */
function isPlain({ motion, shape, wind, rate }: TrialCase, clip: number): boolean {
  return motion.kind === 'clip' && motion.clip === clip && !shape && wind === 'asSet' && rate === 60;
}

function isWorthTrying(document: AuthoredDocument, clips: number): boolean {
  return clips > 0 && listGarments(document).length > 0;
}
