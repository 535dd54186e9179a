import {
  MACHINE_ID,
  type Pricing,
  REFERENCE_TARGET,
  type TargetProfile,
  toPricing,
} from '../../core/cost/index.ts';
import type { TargetEdit } from '../wire/targets.ts';
import { api } from './api.ts';
import { Store } from './store.ts';
import { isOpen, type TaskWatch } from './task-watch.ts';
import { tryAction } from './try-action.ts';

interface TargetsState {
  /** This machine first. */
  all: readonly TargetProfile[];
  /** The one that costs are told for, and what work is priced by there. */
  target: TargetProfile;
  pricing: Pricing;
  /** Share of a calibration of this machine that is done; null when none is under way. */
  progress: number | null;
  /** Why the last thing asked for was not done. */
  failure: string | null;
}

/** The project whose choice it is. */
export interface TargetChoice {
  projectId: string;
  targetId: string;
}

/** Machines that games run on: what work costs there, and which of them counts here. The reference machine until the server says more. */
export class Targets {
  readonly store = new Store<TargetsState>({
    all: [REFERENCE_TARGET],
    target: REFERENCE_TARGET,
    pricing: toPricing(REFERENCE_TARGET),
    progress: null,
    failure: null,
  });
  readonly #watch: TaskWatch | null;
  readonly #projectId: string | null;
  #chosen: string;

  /** @param watch - Tells of calibrations; null: none are ordered here. @param choice - Null: this machine counts. */
  constructor(watch: TaskWatch | null = null, choice: TargetChoice | null = null) {
    this.#watch = watch;
    this.#projectId = choice?.projectId ?? null;
    this.#chosen = choice?.targetId ?? MACHINE_ID;
    watch?.store.subscribe(() => this.#follow(watch));
  }

  /** Asks the server. */
  load(): Promise<void> {
    return tryAction(this.store, async () => this.#show(await api.listTargets()));
  }

  /** Has costs told for another target, in all of the project. */
  choose(id: string): Promise<void> {
    return tryAction(this.store, async () => {
      if (this.#projectId) await api.editProject(this.#projectId, { targetId: id });
      this.#chosen = id;
      this.#show(this.store.state.all);
    });
  }

  /** Other settings of a target, or another name. */
  edit(id: string, edit: TargetEdit): Promise<void> {
    return tryAction(this.store, async () => {
      const edited = await api.editTarget(id, edit);
      this.#show(this.store.state.all.map((each) => (each.id === id ? edited : each)));
    });
  }

  /** Keeps a new one. @param file - As it was exported. @returns It; null when that failed. */
  async add(file: string): Promise<TargetProfile | null> {
    let made: TargetProfile | null = null;
    await tryAction(this.store, async () => {
      made = await api.createTarget(file);
      this.#show([...this.store.state.all, made]);
    });
    return made;
  }

  /** Takes one away; projects that used it go by this machine again. @returns How many did; null when that failed. */
  async remove(id: string): Promise<number | null> {
    let projects: number | null = null;
    await tryAction(this.store, async () => {
      ({ projects } = await api.removeTarget(id));
      this.#show(this.store.state.all.filter((each) => each.id !== id));
    });
    return projects;
  }

  /** Measures this machine anew. */
  calibrate(): Promise<void> {
    return tryAction(this.store, async () => this.#watch?.put(await api.orderCalibration()));
  }

  #show(all: readonly TargetProfile[]): void {
    const target = all.find(({ id }) => id === this.#chosen) ?? all[0]!;
    this.store.set({ all, target, pricing: toPricing(target) });
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
