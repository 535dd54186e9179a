import {
  type CrowdGroup,
  type CrowdMember,
  type CrowdPlan,
  type CrowdSettings,
  planCrowd,
} from '../../core/crowd/index.ts';
import type { ProjectCrowd } from '../wire/levels.ts';
import { api } from './api.ts';
import { Store } from './store.ts';

interface CrowdState {
  /** Null until it is loaded. */
  crowd: ProjectCrowd | null;
  failure: string | null;
}

/** Edits are kept when nothing was edited for so long, ms. */
const KEEP_AFTER_MS = 400;
/** A group to begin with, m. */
const FIRST_GROUP = { count: 4, near: 2, far: 12 } as const;

/** The characters of a project together: read, planned, kept. */
export class CrowdWork {
  readonly store = new Store<CrowdState>({ crowd: null, failure: null });
  readonly #projectId: string;
  #waiting: ReturnType<typeof setTimeout> | null = null;

  constructor(projectId: string) {
    this.#projectId = projectId;
  }

  async load(): Promise<void> {
    try {
      this.store.set({ crowd: await api.readCrowd(this.#projectId), failure: null });
    } catch (error) {
      this.store.set({ failure: (error as Error).message });
    }
  }

  setCamera(change: Partial<CrowdSettings['camera']>): void {
    this.#edit(({ camera, groups }) => ({ camera: { ...camera, ...change }, groups }));
  }

  addGroup({ id }: CrowdMember): void {
    this.#edit(({ camera, groups }) => ({ camera, groups: [...groups, { memberId: id, ...FIRST_GROUP }] }));
  }

  /** A group ends no nearer than it begins: the end that is not edited gives way. */
  setGroup(index: number, change: Partial<CrowdGroup>): void {
    this.#edit(({ camera, groups }) => ({
      camera,
      groups: groups.map((group, g) => {
        if (g !== index) return group;
        const next = { ...group, ...change };
        if (next.far >= next.near) return next;
        return change.near === undefined ? { ...next, near: next.far } : { ...next, far: next.near };
      }),
    }));
  }

  removeGroup(index: number): void {
    this.#edit(({ camera, groups }) => ({ camera, groups: groups.filter((_, g) => g !== index) }));
  }

  /** What all groups cost together; null before anything is known. */
  plan(): CrowdPlan | null {
    const { crowd } = this.store.state;
    return crowd && planCrowd(crowd.members, crowd.settings.groups, crowd.settings.camera, crowd.target);
  }

  #edit(change: (settings: CrowdSettings) => CrowdSettings): void {
    const { crowd } = this.store.state;
    if (!crowd) return;
    this.store.set({ crowd: { ...crowd, settings: change(crowd.settings) } });
    if (this.#waiting) clearTimeout(this.#waiting);
    this.#waiting = setTimeout(() => void this.keep(), KEEP_AFTER_MS);
  }

  /** Keeps what was edited. */
  async keep(): Promise<void> {
    if (!this.#waiting) return;
    clearTimeout(this.#waiting);
    this.#waiting = null;
    const { settings } = this.store.state.crowd!;
    try {
      await api.editProject(this.#projectId, { crowd: settings });
      this.store.set({ failure: null });
    } catch (error) {
      this.store.set({ failure: (error as Error).message });
    }
  }
}
