import type { FabricSettings } from '../../core/cloth/index.ts';
import {
  type AuthoredDocument,
  getScene,
  type IntakeReport,
  listGarments,
  type RecordId,
  toPatch,
  toWholePatch,
} from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import type { CharacterInfo } from './api.ts';
import { Editor } from './editor.ts';
import { loadCharacter } from './load-character.ts';
import { LooksClient } from './looks-client.ts';
import { Playback } from './playback.ts';
import { PreviewClient } from './preview-client.ts';
import { SESSION_START, type Session } from './session.ts';
import { SidePreview } from './side-preview.ts';
import { Store } from './store.ts';
import { Targets } from './targets.ts';
import { TrialClient } from './trial-client.ts';

/** What a side shows: all as authored, nothing simulated, or another fabric on the compared garment. */
export type Choice =
  | { kind: 'authored' }
  | { kind: 'skinned' }
  | { kind: 'fabric'; name: string; settings: FabricSettings };

export interface Side {
  /** The document as this side has it. */
  editor: Editor;
  preview: SidePreview;
  trial: TrialClient;
  session: Store<Session>;
  report: IntakeReport;
  looks: LooksClient;
}

export interface ComparisonState {
  garmentId: RecordId | null;
  choices: readonly [Choice, Choice];
}

/** Two settings of one character in one pose, on one clock: the same worker simulates both. */
export class Comparison {
  readonly info: Omit<CharacterInfo, 'records'>;
  readonly document: AuthoredDocument;
  readonly sides: readonly [Side, Side];
  readonly playback: Playback;
  readonly store: Store<ComparisonState>;
  readonly targets: Targets;
  readonly #preview = new PreviewClient();

  constructor(info: CharacterInfo, document: AuthoredDocument, character: Character) {
    this.info = info;
    this.targets = new Targets(null, { projectId: info.project.id, targetId: info.project.targetId });
    this.document = document;
    const garments = listGarments(document);
    const clip = character.clips.findIndex(({ name }) => name === getScene(document).clipName);
    const session = new Store<Session>({
      ...SESSION_START,
      stage: 'ship',
      clip: clip < 0 ? null : clip,
      lightDrawing: localStorage.getItem('light-drawing') === 'on',
    });
    this.playback = new Playback(session, this.#preview, character);
    this.store = new Store<ComparisonState>({
      garmentId: garments[garments.length - 1]?.id ?? null,
      choices: [{ kind: 'skinned' }, { kind: 'authored' }],
    });
    const looks = new LooksClient(info);
    const makeSide = (side: number): Side => {
      const own = { records: new Map(document.records), arrays: document.arrays };
      const editor = new Editor(character, own);
      return {
        editor,
        preview: new SidePreview(this.#preview, side),
        trial: new TrialClient(editor, this.targets),
        session,
        report: info.report,
        looks,
      };
    };
    this.sides = [makeSide(0), makeSide(1)];
    this.#applyAll();
    const patches = this.sides.map(({ editor }) => toWholePatch(editor.document));
    this.#preview.send({ kind: 'load', character, patches, clip: session.state.clip });
    this.sides.forEach(({ editor, trial }, side) => {
      editor.onDiff((diff) => {
        this.#preview.send({ kind: 'patch', patch: toPatch(diff), side });
        trial.follow(diff);
        trial.measure(session.state.clip);
      });
    });
    void this.targets.load();
    this.#measure(1500);
  }

  static async open(id: string): Promise<Comparison> {
    const { info, document, character, preparation } = await loadCharacter(id);
    preparation.dispose();
    return new Comparison(info, document, character);
  }

  setClip(clip: number | null): void {
    this.playback.setClip(clip);
    this.#measure(100);
  }

  setChoice(side: number, choice: Choice): void {
    const choices = this.store.state.choices.map((known, index) => (index === side ? choice : known));
    this.store.set({ choices: choices as [Choice, Choice] });
    this.#apply(side, choice);
  }

  /** Another garment to give other fabrics; the choices stay. */
  setGarment(garmentId: RecordId): void {
    this.store.set({ garmentId });
    this.#applyAll();
  }

  /** The fabric that the compared garment has on a side; null when there is no garment. */
  readFabric(side: number): { name: string; settings: FabricSettings } | null {
    const { records } = this.sides[side]!.editor.document;
    const garment = this.store.state.garmentId ? records.get(this.store.state.garmentId) : undefined;
    const fabric = garment?.type === 'garment' ? records.get(garment.fabricId) : undefined;
    return fabric?.type === 'fabric' ? fabric : null;
  }

  dispose(): void {
    this.#preview.dispose();
    for (const { trial } of this.sides) trial.dispose();
  }

  #measure(waitMs: number): void {
    const { clip } = this.playback.session.state;
    for (const { trial } of this.sides) trial.measure(clip, waitMs);
  }

  #applyAll(): void {
    const [a, b] = this.store.state.choices;
    this.#apply(0, a);
    this.#apply(1, b);
  }

  /** Brings the document of a side to what was authored, then to what was chosen. */
  #apply(side: number, choice: Choice): void {
    const { editor } = this.sides[side]!;
    const wanted = new Map(this.document.records);
    for (const garment of listGarments(this.document)) {
      if (choice.kind === 'skinned') wanted.set(garment.id, { ...garment, blend: 0 });
      const fabric = wanted.get(garment.fabricId);
      if (choice.kind !== 'fabric' || garment.id !== this.store.state.garmentId) continue;
      if (fabric?.type === 'fabric') {
        wanted.set(fabric.id, { ...fabric, name: choice.name, settings: choice.settings });
      }
    }
    const changed = [...wanted].filter(([id, record]) => !isSame(editor.document.records.get(id), record));
    editor.changeRecords('Choose', changed, `choice ${side}`);
  }
}

function isSame(p: unknown, q: unknown): boolean {
  return JSON.stringify(p) === JSON.stringify(q);
}
