import type { GarmentRecord } from '../../core/document/index.ts';
import type { MeshFinding } from '../../core/mesh/index.ts';
import { findSection, type Section, type SectionName } from '../../core/rig/index.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import type { Session } from './session.ts';
import { Store } from './store.ts';

interface Checked {
  section: Section;
  findings: readonly MeshFinding[];
}

/** Findings of the meshes of the selected garment, checked anew in the worker when they change. */
export class Health {
  /** Name of a section → what was found; of the section as it was when checked. */
  readonly store = new Store<{ checked: ReadonlyMap<string, Checked>; isChecking: boolean }>({
    checked: new Map(),
    isChecking: false,
  });
  readonly #editor: Editor;
  readonly #session: Store<Session>;
  readonly #client: PreparationClient;
  #asked = new Map<string, Section>();

  constructor(editor: Editor, session: Store<Session>, client: PreparationClient) {
    this.#editor = editor;
    this.#session = session;
    this.#client = client;
    editor.subscribe(() => this.#update());
    session.subscribe(() => this.#update());
    // After the first moving picture.
    setTimeout(() => this.#update(), 1500);
  }

  /** What is known of a section as it is now; null before it was checked. */
  get(name: SectionName): readonly MeshFinding[] | null {
    const checked = this.store.state.checked.get(name.sectionName);
    return checked && checked.section === this.#find(name) ? checked.findings : null;
  }

  #find(name: SectionName): Section | undefined {
    return this.#editor.character.sections[findSection(this.#editor.character, name)];
  }

  #update(): void {
    const { garmentId } = this.#session.state;
    const garment = garmentId ? this.#editor.document.records.get(garmentId) : undefined;
    if (garment?.type !== 'garment') return;
    for (const name of listMeshes(garment)) {
      const section = this.#find(name);
      if (section && this.#asked.get(name.sectionName) !== section) void this.#check(name, section);
    }
  }

  async #check(name: SectionName, section: Section): Promise<void> {
    this.#asked.set(name.sectionName, section);
    this.store.set({ isChecking: true });
    const findings = await this.#client.check(name).catch(() => null);
    // Cancelled with the task before it: to be asked again.
    if (!findings) this.#asked.delete(name.sectionName);
    else
      this.store.set({
        checked: new Map(this.store.state.checked).set(name.sectionName, { section, findings }),
      });
    this.store.set({ isChecking: false });
  }
}

/** The simulated mesh of a garment, and what is drawn in its place. */
export function listMeshes(garment: GarmentRecord): SectionName[] {
  const { sectionIndex, sectionName } = garment;
  return [{ sectionIndex, sectionName }, ...garment.renders];
}
