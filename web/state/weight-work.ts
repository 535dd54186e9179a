import { mergeWeights } from '../../core/prepare/index.ts';
import { type BrushSurface, computeDab, type Dab } from '../../core/reach/index.ts';
import { findSection, type SectionName, setJointWeights } from '../../core/rig/index.ts';
import { listJointNames, packVertexEdits, type StepAct, unpackVertexEdits } from '../../core/steps/index.ts';
import { BoundSection } from './bound-section.ts';
import type { Editor } from './editor.ts';
import { Keeping } from './keeping.ts';
import type { Preparing } from './preparing.ts';
import { Store } from './store.ts';

export interface WeightSettings {
  tool: 'paint' | 'smooth' | 'select';
  view: 'joint' | 'leading';
  /** Among the joints of the skin. */
  joint: number;
  /** Joints whose weight stays as it is. */
  kept: ReadonlySet<number>;
  /** 0 to 1, that painting leads to. */
  value: number;
  /** m */
  radius: number;
  strength: number;
  /** Points whose numbers are shown. */
  selected: readonly number[];
  /** Rises when weights change. */
  revision: number;
}

/** Skin weights of a section being painted and typed. Each stroke becomes part of one step of preparation. */
export class WeightWork {
  readonly kind = 'weights';
  readonly store: Store<WeightSettings>;
  readonly jointNames: readonly string[];
  #bound: BoundSection;
  readonly #editor: Editor;
  readonly #preparing: Preparing;
  /** Set since the last step. */
  #touched = new Set<number>();
  readonly #keeping = new Keeping();

  constructor(editor: Editor, preparing: Preparing, section: SectionName) {
    this.#editor = editor;
    this.#preparing = preparing;
    this.#bound = new BoundSection(editor.character, section);
    this.jointNames = listJointNames(editor.character, this.#bound.sectionIndex);
    this.store = new Store<WeightSettings>({
      tool: 'paint',
      view: 'joint',
      joint: this.listShares()[0]?.joint ?? 0,
      kept: new Set(),
      value: 1,
      radius: 0.06,
      strength: 0.5,
      selected: [],
      revision: 0,
    });
  }

  get bound(): BoundSection {
    return this.#bound;
  }

  /** Joints with weight on the section and their share of it, largest first. */
  listShares(): { joint: number; share: number }[] {
    const { dense, jointCount } = this.#bound;
    const sums = new Float64Array(jointCount);
    for (let i = 0; i < dense.length; i++) sums[i % jointCount] = sums[i % jointCount]! + dense[i]!;
    return Array.from(sums, (sum, joint) => ({
      joint,
      share: (sum * jointCount) / Math.max(1, dense.length),
    }))
      .filter(({ share }) => share > 0)
      .sort((p, q) => q.share - p.share);
  }

  /** Weights of one joint at all points. */
  getColumn(joint: number): Float32Array {
    const { dense, jointCount, mesh } = this.#bound;
    return Float32Array.from({ length: mesh.pointCount }, (_, p) => dense[jointCount * p + joint]!);
  }

  /** One dab of the brush on the chosen joint. */
  dab(surface: BrushSurface, at: Pick<Dab, 'center' | 'view' | 'normalAtHit'>): void {
    const { joint, value, radius, strength, tool } = this.store.state;
    const change = computeDab(this.getColumn(joint), surface, {
      ...at,
      value,
      radius,
      strength,
      falloff: 'smooth',
      mode: tool === 'smooth' ? 'evenOut' : 'value',
    });
    this.#set(joint, change.indices, change.after);
  }

  /** Gives one joint an exact weight at the selected points. */
  async type(joint: number, value: number): Promise<void> {
    const { selected } = this.store.state;
    this.#set(joint, selected, new Float32Array(selected.length).fill(value));
    await this.keep();
  }

  /** Adds points to those whose numbers are shown, or begins anew. */
  select(points: Iterable<number>, isMore: boolean): void {
    const selected = new Set(isMore ? this.store.state.selected : []);
    for (const point of points) selected.add(point);
    this.store.set({ selected: [...selected].sort((p, q) => p - q) });
  }

  /** Makes what was set since the last time part of the preparation. */
  async keep(): Promise<void> {
    const keepAll = async (): Promise<void> => {
      while (this.#touched.size > 0) await this.#put();
    };
    await this.#keeping.run(keepAll, () => {
      // What could not be kept is not shown either.
      this.#touched.clear();
      this.#reopen();
    });
    this.follow();
  }

  /** After undo, or another step: what is worked on is the section as it is now. @returns False when it is gone. */
  follow(): boolean {
    const { character } = this.#editor;
    if (this.#keeping.isBusy || character.sections[this.#bound.sectionIndex] === this.#bound.section)
      return true;
    return this.#reopen();
  }

  #reopen(): boolean {
    if (findSection(this.#editor.character, this.#bound.name) < 0) return false;
    const before = this.#bound.mesh.pointCount;
    this.#bound = new BoundSection(this.#editor.character, this.#bound.name);
    const { revision, selected } = this.store.state;
    const isSame = this.#bound.mesh.pointCount === before;
    this.store.set({ revision: revision + 1, selected: isSame ? selected : [] });
    return true;
  }

  async #put(): Promise<void> {
    const { name, mesh, dense } = this.#bound;
    const touched = this.#touched;
    this.#touched = new Set();
    const into = this.#preparing.findLastStep(name, 'setWeights');
    const work = into && unpackVertexEdits(this.#editor.document.arrays.get(into.id));
    const known = work && into.act.kind === 'setWeights' ? { work, joints: into.act.joints } : null;
    const merged = mergeWeights(known, mesh, dense, this.jointNames, touched);
    const act: StepAct = { kind: 'setWeights', joints: [...merged.joints] };
    const entry = { section: name, act, packed: packVertexEdits(merged.work), into };
    await this.#preparing.putEdits(`Set weights of ${name.sectionName}`, [entry]);
  }

  #set(joint: number, points: ArrayLike<number>, values: ArrayLike<number>): void {
    const { dense, jointCount } = this.#bound;
    setJointWeights(dense, jointCount, joint, points, values, this.store.state.kept);
    const list = Array.from(points);
    this.#bound.refreshRows(list);
    for (const point of list) this.#touched.add(point);
    this.store.set({ revision: this.store.state.revision + 1 });
  }
}
