import { type CostProfile, REFERENCE_PROFILE } from '../../core/cost/index.ts';
import { api } from './api.ts';
import { Store } from './store.ts';
import { isOpen, type TaskWatch } from './task-watch.ts';
import { tryAction } from './try-action.ts';

interface UnitCostsState {
  profile: CostProfile;
  /** Share of a calibration that is done; null when none is under way. */
  progress: number | null;
  /** Why the last thing asked for was not done. */
  failure: string | null;
}

/** What work costs on the machine that counts; the reference machine until the server says more. */
export class UnitCostsStore {
  readonly store = new Store<UnitCostsState>({ profile: REFERENCE_PROFILE, progress: null, failure: null });
  readonly #watch: TaskWatch | null;

  /** @param watch - Tells of calibrations; null: none are ordered here. */
  constructor(watch: TaskWatch | null = null) {
    this.#watch = watch;
    watch?.store.subscribe(() => this.#follow(watch));
  }

  /** Asks the server. */
  load(): Promise<void> {
    return tryAction(this.store, async () => this.store.set({ profile: await api.readCostProfile() }));
  }

  /** Measures this machine anew. */
  calibrate(): Promise<void> {
    return tryAction(this.store, async () => this.#watch?.put(await api.orderCalibration()));
  }

  #follow(watch: TaskWatch): void {
    const newest = watch.store.state.tasks.find(({ kind }) => kind === 'calibration');
    const wasOpen = this.store.state.progress !== null;
    if (newest && isOpen(newest)) {
      this.store.set({ progress: newest.total > 0 ? newest.done / newest.total : 0 });
      return;
    }
    if (!wasOpen) return;
    this.store.set({ progress: null, failure: newest?.state === 'failed' ? newest.error : null });
    if (newest?.state === 'done') void this.load();
  }
}
