import { dequal } from 'dequal/lite';
import { listGarments, type RecordId } from '../../core/document/index.ts';
import type { Editor } from './editor.ts';
import { type Finding, listFindings } from './findings.ts';
import type { Health } from './health.ts';
import type { ReachWatch } from './reach-watch.ts';
import { Store } from './store.ts';
import type { TrialClient } from './trial-client.ts';

const NONE: readonly Finding[] = [];

/** Findings of all garments, listed anew when what they are made of changes, and not when a component renders. */
export class FindingsWatch {
  readonly store = new Store<{ findings: ReadonlyMap<RecordId, readonly Finding[]> }>({
    findings: new Map(),
  });
  readonly #list: () => Map<RecordId, readonly Finding[]>;

  constructor(editor: Editor, trial: TrialClient, health: Health, reach: ReachWatch) {
    this.#list = () =>
      new Map(
        listGarments(editor.document).map((garment) => [
          garment.id,
          listFindings(editor, garment, trial.store.state.frames, health.get(garment), reach.get(garment.id)),
        ]),
      );
    const update = (): void => this.#update();
    editor.subscribeView(update);
    trial.store.subscribe(update);
    health.store.subscribe(update);
    reach.store.subscribe(update);
    update();
  }

  get(garmentId: RecordId): readonly Finding[] {
    return this.store.state.findings.get(garmentId) ?? NONE;
  }

  #update(): void {
    const known = this.store.state.findings;
    const listed = this.#list();
    // What did not change stays the very same, so that nobody renders for it.
    for (const [id, findings] of listed) if (dequal(findings, known.get(id))) listed.set(id, known.get(id)!);
    const isSame =
      listed.size === known.size && [...listed].every(([id, findings]) => known.get(id) === findings);
    if (!isSame) this.store.set({ findings: listed });
  }
}
