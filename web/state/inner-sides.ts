import { findSection, type Section, type SectionName } from '../../core/rig/index.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import { Store } from './store.ts';

/** Inner sides of sections, recognised in the worker and kept as long as the section is the same. */
export class InnerSides {
  /** Rises when another is known. */
  readonly store = new Store({ known: 0 });
  readonly #editor: Pick<Editor, 'character'>;
  readonly #client: Pick<PreparationClient, 'findInnerSide'>;
  readonly #found = new WeakMap<Section, Uint8Array>();
  readonly #asked = new WeakSet<Section>();

  constructor(editor: Pick<Editor, 'character'>, client: Pick<PreparationClient, 'findInnerSide'>) {
    this.#editor = editor;
    this.#client = client;
  }

  /** Non-zero: the welded vertex is on the inner side. Null until it is known; asks for it then. */
  get({ sectionIndex, sectionName }: SectionName): Uint8Array | null {
    const { character } = this.#editor;
    const section = character.sections[findSection(character, { sectionIndex, sectionName })];
    if (!section) return null;
    const found = this.#found.get(section);
    if (found) return found;
    if (!this.#asked.has(section)) void this.#ask(section, { sectionIndex, sectionName });
    return null;
  }

  async #ask(section: Section, name: SectionName): Promise<void> {
    this.#asked.add(section);
    try {
      const found = await this.#client.findInnerSide(name);
      this.#found.set(section, found);
      this.store.set({ known: this.store.state.known + 1 });
    } catch {
      // Cancelled with the task before it: to be asked again.
      this.#asked.delete(section);
    }
  }
}
