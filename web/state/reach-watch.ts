import {
  type DocumentDiff,
  findChannel,
  type GarmentRecord,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { checkReach, LINING_FROM, type ReachWarning } from '../../core/reach/index.ts';
import { type Character, findSection } from '../../core/rig/index.ts';
import type { Editor } from './editor.ts';
import type { InnerSides } from './inner-sides.ts';
import { getReachMesh } from './reach-mesh.ts';
import { Store } from './store.ts';

/** Looked at so long after the last change: not for every dab. */
const WAIT_MS = 250;
/** The first look waits until the first moving picture is up. */
const FIRST_MS = 2000;

/** What is wrong with the max distances of the garments, checked anew when a stroke is done. */
export class ReachWatch {
  readonly store = new Store<{ warnings: ReadonlyMap<RecordId, readonly ReachWarning[]> }>({
    warnings: new Map(),
  });
  readonly #editor: Editor;
  readonly #innerSides: Pick<InnerSides, 'get' | 'store'>;
  #character: Character;
  /** Garments that changed since they were checked; null: all. */
  #changed: Set<RecordId> | null = null;
  #timer: ReturnType<typeof setTimeout> | null = null;

  constructor(editor: Editor, innerSides: Pick<InnerSides, 'get' | 'store'>) {
    this.#editor = editor;
    this.#innerSides = innerSides;
    innerSides.store.subscribe(() => {
      this.#changed = null;
      this.#checkSoon();
    });
    this.#character = editor.character;
    editor.onDiff((diff) => {
      this.#note(diff);
      this.#checkSoon();
    });
    editor.subscribe(() => {
      if (editor.character !== this.#character) this.#changed = null;
      this.#character = editor.character;
      this.#checkSoon();
    });
    this.#checkSoon(FIRST_MS);
  }

  get(garmentId: RecordId): readonly ReachWarning[] {
    return this.store.state.warnings.get(garmentId) ?? [];
  }

  /** Checks what changed, now. */
  check(): void {
    const known = this.store.state.warnings;
    const changed = this.#changed;
    this.#changed = new Set();
    const warnings = listGarments(this.#editor.document).map(
      (garment): [RecordId, readonly ReachWarning[]] => {
        const isFresh = changed !== null && !changed.has(garment.id);
        return [garment.id, (isFresh && known.get(garment.id)) || this.#checkGarment(garment)];
      },
    );
    this.store.set({ warnings: new Map(warnings) });
  }

  /** Remembers which garments a change is about. */
  #note(diff: DocumentDiff): void {
    for (const [before, after] of diff.records.values()) {
      const record = after ?? before;
      if (record?.type === 'garment') this.#changed?.add(record.id);
      else if (record?.type === 'channel') this.#changed?.add(record.garmentId);
      // A step of preparation may change the mesh of any garment.
      else if (record?.type === 'step') this.#changed = null;
    }
    for (const id of diff.arrays.keys()) {
      const record = this.#editor.document.records.get(id);
      if (record?.type === 'channel') this.#changed?.add(record.garmentId);
    }
  }

  #checkSoon(waitMs = WAIT_MS): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.check(), waitMs);
  }

  #checkGarment(garment: GarmentRecord): readonly ReachWarning[] {
    const { character, document } = this.#editor;
    const index = findSection(character, garment);
    const map = findChannel(document, garment.id);
    const values = map && document.arrays.get(map.id);
    if (index < 0 || !values) return [];
    const { mesh, neighbours } = getReachMesh(character, index);
    // The mesh is being prepared.
    if (values.length !== mesh.pointCount) return [];
    return checkReach({
      values,
      neighbours,
      positions: mesh.pointPositions,
      isLining: this.#findLining(garment),
    });
  }

  /** What rides on the outer side: as painted, or as it was recognised; null: nothing, or not known yet. */
  #findLining(garment: GarmentRecord): Uint8Array | null {
    const { document } = this.#editor;
    const map = findChannel(document, garment.id, 'lining');
    const painted = map && document.arrays.get(map.id);
    if (painted) return Uint8Array.from(painted, (value) => (value >= LINING_FROM ? 1 : 0));
    return garment.lining === 'inside' ? this.#innerSides.get(garment) : null;
  }
}
