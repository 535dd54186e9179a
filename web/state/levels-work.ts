import { dequal } from 'dequal';
import { toPricing } from '../../core/cost/index.ts';
import { CAMERA_DEFAULTS } from '../../core/crowd/index.ts';
import {
  changesMotion,
  type GarmentLevel,
  type GarmentRecord,
  listGarments,
} from '../../core/document/index.ts';
import { chooseBand, findBand, type LevelBand, listBands, proposeLevels } from '../../core/levels/index.ts';
import type { LevelsFound, MeasuredBand } from '../wire/levels.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { api } from './api.ts';
import type { Editor } from './editor.ts';
import { FoundResults } from './found-results.ts';
import type { Ordering } from './ordering.ts';
import type { PreviewClient } from './preview-client.ts';
import { Store } from './store.ts';
import type { Targets } from './targets.ts';
import { tryAction } from './try-action.ts';

interface LevelsState {
  /** Size on the screen whose levels are held in the viewport, px; null: none. */
  heldPixels: number | null;
  /** The level follows how large the character is in the viewport. */
  isByView: boolean;
  /** How high it is there, px of a usual screen; null: not looked at. */
  viewPixels: number | null;
  /** What was measured last; null before anything was. */
  found: LevelsFound | null;
  /** Something that moves was edited since. */
  isOld: boolean;
  failure: string | null;
}

/** Levels of detail of a character: authored, held in the viewport, measured on the server. */
export class LevelsWork {
  readonly store = new Store<LevelsState>({
    heldPixels: null,
    isByView: false,
    viewPixels: null,
    found: null,
    isOld: false,
    failure: null,
  });
  readonly #editor: Editor;
  readonly #ordering: Ordering;
  readonly #results: FoundResults<unknown>;
  readonly #preview: Pick<PreviewClient, 'send'>;
  readonly #targets: Pick<Targets, 'store'>;

  /** @param openedRevision - Of the state that this page was opened with. */
  constructor(
    editor: Editor,
    ordering: Ordering,
    { preview, targets }: { preview: Pick<PreviewClient, 'send'>; targets: Pick<Targets, 'store'> },
    openedRevision: number,
  ) {
    this.#editor = editor;
    this.#ordering = ordering;
    this.#preview = preview;
    this.#targets = targets;
    editor.onDiff((diff) => {
      if (this.store.state.found && changesMotion(diff)) this.store.set({ isOld: true });
    });
    this.#results = new FoundResults(ordering, {
      kind: 'levels',
      openedRevision,
      read: (taskId) => api.readLevels(taskId),
      take: (found, isOfNow) => this.store.set({ found, ...(!isOfNow && { isOld: true }) }),
      fail: (failure) => this.store.set({ failure }),
    });
  }

  /** From near to far, as the garments have them now. */
  listBands(): LevelBand[] {
    return listBands(listGarments(this.#editor.document));
  }

  /** What was measured with garments at the levels of a band; null when nothing was, or it is another now. */
  findFigures({ levels }: LevelBand): MeasuredBand | null {
    const { found, isOld } = this.store.state;
    const pricing = toPricing(this.#targets.store.state.target);
    if (!found || isOld || !dequal(found.request.pricing, pricing)) return null;
    return found.results.find(({ band }) => dequal(found.request.bands[band]?.levels, [...levels])) ?? null;
  }

  /** Holds all garments in the viewport at the levels that they have at a size on the screen, wherever it is seen from; null: lets go. */
  hold(pixels: number | null): void {
    if (this.store.state.isByView) this.store.set({ isByView: false, viewPixels: null });
    this.#show(pixels);
  }

  /** Whether the level follows how large the character is in the viewport. */
  setByView(isByView: boolean): void {
    this.store.set({ isByView, viewPixels: null });
    if (!isByView) this.#show(null);
  }

  /** Follows the viewport. @param share - Of the picture's height that the character takes. */
  followView(share: number): void {
    const { isByView, heldPixels } = this.store.state;
    if (!isByView) return;
    const viewPixels = Math.round(share * CAMERA_DEFAULTS.screenHeight);
    if (viewPixels !== this.store.state.viewPixels) this.store.set({ viewPixels });
    const bands = this.listBands();
    const next = chooseBand(bands, heldPixels === null ? -1 : findBand(bands, heldPixels), viewPixels);
    this.#show(bands[next]!.from);
  }

  /** From one size to another directly: the garments go over, as they do not when they are let go between. */
  #show(pixels: number | null): void {
    if (this.store.state.heldPixels === pixels) return;
    this.store.set({ heldPixels: pixels });
    this.#preview.send({ kind: 'hold', pixels });
  }

  /** Gives garments the levels that are proposed for them, as one step. */
  propose(garments: readonly GarmentRecord[]): void {
    const { document, character } = this.#editor;
    const names = garments.length === 1 ? garments[0]!.name : 'all garments';
    this.#editor.changeRecords(
      `Propose levels for ${names}`,
      garments.map((garment) => [
        garment.id,
        { ...garment, levels: proposeLevels(character, document, garment) },
      ]),
      null,
    );
  }

  setLevels(garment: GarmentRecord, label: string, levels: readonly GarmentLevel[], mergeKey?: string): void {
    const sorted = [...levels].sort((p, q) => q.pixels - p.pixels);
    this.#editor.updateRecord(`${garment.name}: ${label}`, garment, { levels: sorted }, mergeKey);
  }

  /** The newest of this character. */
  get task(): TaskEntry | null {
    return this.#results.task;
  }

  order(clips: readonly number[]): Promise<void> {
    return tryAction(this.store, async () => {
      this.store.set({ found: null, isOld: false, failure: null });
      await this.#ordering.order((id, seen) => api.orderLevels(id, { clips, seen }));
    });
  }

  stop(): Promise<void> {
    return tryAction(this.store, () => this.#results.stop());
  }
}
