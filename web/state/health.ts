import { type GarmentRecord, getScene } from '../../core/document/index.ts';
import type { HealthLimits, MeshFinding } from '../../core/mesh/index.ts';
import { findSection, type Section, type SectionName } from '../../core/rig/index.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import type { Session } from './session.ts';
import { Store } from './store.ts';

/** What a check was of. */
interface Asked {
  section: Section;
  limits: Partial<HealthLimits>;
}

interface Checked extends Asked {
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
  readonly #asked = new Map<string, Asked>();
  /** Names of sections that are being checked: what changes meanwhile waits, so that a slider asks once. */
  readonly #underWay = new Set<string>();

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
    return checked && checked.section === this.#find(name) && checked.limits === this.#limits
      ? checked.findings
      : null;
  }

  get #limits(): Partial<HealthLimits> {
    return getScene(this.#editor.document).healthLimits;
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
      const asked = this.#asked.get(name.sectionName);
      const isKnown = asked?.section === section && asked?.limits === this.#limits;
      if (section && !isKnown && !this.#underWay.has(name.sectionName))
        void this.#check(name, { section, limits: this.#limits });
    }
  }

  async #check(name: SectionName, asked: Asked): Promise<void> {
    this.#asked.set(name.sectionName, asked);
    this.#underWay.add(name.sectionName);
    this.store.set({ isChecking: true });
    const findings = await this.#client.check(name).catch(() => null);
    this.#underWay.delete(name.sectionName);
    // It could not be checked: to be asked again when something changes.
    if (!findings) this.#asked.delete(name.sectionName);
    else
      this.store.set({
        checked: new Map(this.store.state.checked).set(name.sectionName, { ...asked, findings }),
      });
    this.store.set({ isChecking: this.#underWay.size > 0 });
    // Changed meanwhile, perhaps more than once.
    if (findings) this.#update();
  }
}

/** The simulated mesh of a garment, and what is drawn in its place. */
export function listMeshes(garment: GarmentRecord): SectionName[] {
  const { sectionIndex, sectionName } = garment;
  return [{ sectionIndex, sectionName }, ...garment.renders];
}
