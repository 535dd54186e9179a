import { createContext, useContext, useSyncExternalStore } from 'react';
import {
  changesMotion,
  type DocumentDiff,
  getScene,
  type IntakeReport,
  invertDiff,
  listGarments,
  type RecordId,
  toPatch,
  toWholePatch,
} from '../../core/document/index.ts';
import { type JointTurn, measureFigure, type SectionName } from '../../core/rig/index.ts';
import { AdviceWork } from './advice-work.ts';
import type { CharacterInfo } from './api.ts';
import { BodyFigures } from './body-figures.ts';
import { BodySuggesting } from './body-suggesting.ts';
import type { CursorReading } from './cursor-reading.ts';
import { Editor } from './editor.ts';
import { FindingsWatch } from './findings-watch.ts';
import { FitWork } from './fit-work.ts';
import { Health } from './health.ts';
import { returnToVersion } from './history-client.ts';
import { InnerSides } from './inner-sides.ts';
import { LevelsWork } from './levels-work.ts';
import { loadCharacter } from './load-character.ts';
import { LooksClient } from './looks-client.ts';
import { MapImageClient } from './map-image-client.ts';
import { Ordering } from './ordering.ts';
import { Playback } from './playback.ts';
import type { PreparationClient } from './preparation-client.ts';
import { Preparing } from './preparing.ts';
import { PreviewClient } from './preview-client.ts';
import { ProjectLimits } from './project-limits.ts';
import { ReachWatch } from './reach-watch.ts';
import { ReachWork } from './reach-work.ts';
import { Saver, type SaveState } from './saver.ts';
import { SearchWork } from './search-work.ts';
import { getSectionMesh } from './section-mesh.ts';
import { type FacePick, SESSION_START, type Session } from './session.ts';
import type { Prepared } from './step-changes.ts';
import { Store } from './store.ts';
import { Suggesting } from './suggesting.ts';
import { Targets } from './targets.ts';
import { TaskWatch } from './task-watch.ts';
import { TrialClient } from './trial-client.ts';
import { TrialsWork } from './trials-work.ts';
import type { ViewedVersion } from './viewed-version.ts';
import { WeightWork } from './weight-work.ts';

/** Radius of the brush that picks faces, m. */
const PICK_BRUSH = 0.05;

/** Brushes are made for a grown figure; between these sizes, m, nobody wants another. */
const GROWN = 1.83;
const USUAL_SIZES = [0.6, 4] as const;

/** Everything behind the workbench page: document, saving, preview, trials, and what the user looks at. */
export class Workbench {
  readonly info: Omit<CharacterInfo, 'records'>;
  readonly report: IntakeReport;
  readonly editor: Editor;
  readonly saver: Saver;
  readonly preview = new PreviewClient();
  /** Materials and images of the character's files. */
  readonly looks: LooksClient;
  /** Measures the clip that is looked at, in this page. */
  readonly trial: TrialClient;
  /** Machines that games run on, and the one that costs are told for. */
  readonly targets: Targets;
  readonly advising: AdviceWork;
  readonly levels: LevelsWork;
  /** Trials on the server. */
  readonly trials: TrialsWork;
  /** Searches for settings, on the server too. */
  readonly search: SearchWork;
  /** A change that is on the character for a look, and nowhere else. */
  #looked: DocumentDiff | null = null;
  readonly session: Store<Session>;
  readonly playback: Playback;

  /** How much larger than a grown figure the character is, for brushes. */
  readonly #scale: number;

  /** Clip that played before the bind pose was asked for. */
  #clipBefore: number | null = null;
  readonly preparing: Preparing;
  readonly health: Health;
  readonly reach: ReachWork;
  readonly reachWatch: ReachWatch;
  readonly mapImages: MapImageClient;
  readonly suggesting: Suggesting;
  readonly bodySuggesting: BodySuggesting;
  readonly bodyFigures: BodyFigures;
  readonly projectLimits: ProjectLimits;
  readonly findings: FindingsWatch;
  readonly innerSides: InnerSides;
  /** Whether it was ever shipped, by this window or before. */
  readonly shipped: Store<{ isShipped: boolean }>;
  /** What is under the cursor; null beside everything. */
  readonly reading = new Store<{ reading: CursorReading | null }>({ reading: null });

  /** The earlier version that is looked at; null for the character as it is now. */
  readonly version: ViewedVersion | null;

  constructor(
    info: CharacterInfo,
    editor: Editor,
    preparation: PreparationClient,
    version: ViewedVersion | null = null,
  ) {
    this.info = info;
    this.version = version;
    this.report = info.report;
    this.looks = new LooksClient(info);
    this.shipped = new Store({ isShipped: info.shippedAt !== null });
    this.editor = editor;
    this.saver = new Saver(editor, info, version !== null);
    const garments = listGarments(editor.document);
    const clip = this.#findClip();
    const { size } = measureFigure(editor.character);
    this.#scale = size > USUAL_SIZES[0] && size < USUAL_SIZES[1] ? 1 : size / GROWN;
    this.session = new Store<Session>({
      ...SESSION_START,
      brush: { ...SESSION_START.brush, radius: SESSION_START.brush.radius * this.#scale },
      clip,
      stage: garments.length > 0 ? 'reach' : 'intake',
      garmentId: garments[garments.length - 1]?.id ?? null,
      lightDrawing: localStorage.getItem('light-drawing') === 'on',
    });
    this.playback = new Playback(this.session, this.preview, editor.character);
    const patch = toWholePatch(editor.document);
    const { character } = editor;
    const watch = new TaskWatch();
    this.targets = new Targets(watch, { projectId: info.project.id, targetId: info.project.targetId });
    this.trials = new TrialsWork(editor, this.saver, info, {
      watch,
      targets: this.targets,
      isOff: version !== null,
    });
    void this.targets.load();
    this.trial = new TrialClient(editor, this.targets);
    const ordering = new Ordering(this.saver, info, this.trials.watch);
    this.search = new SearchWork(editor, ordering, (diff) => this.#look(diff));
    this.preview.send({ kind: 'load', character, patches: [patch], clip });
    this.preparing = new Preparing(editor, preparation, (diff, prepared) => this.#follow(diff, prepared));
    this.innerSides = new InnerSides(editor, preparation);
    this.health = new Health(editor, this.session, preparation);
    this.reach = new ReachWork(editor, this.session, this.innerSides);
    this.reachWatch = new ReachWatch(editor, this.innerSides);
    this.mapImages = new MapImageClient(editor, this.reach, preparation);
    this.suggesting = new Suggesting(editor, this.reach, ordering);
    this.bodySuggesting = new BodySuggesting(editor, this.preparing.bodyMeshes, ordering);
    this.advising = new AdviceWork(editor, ordering, this.preparing, info.revision);
    this.levels = new LevelsWork(
      editor,
      ordering,
      { preview: this.preview, targets: this.targets },
      info.revision,
    );
    this.projectLimits = new ProjectLimits(editor, info.project);
    this.bodyFigures = new BodyFigures(editor, this.targets);
    this.findings = new FindingsWatch(editor, this.trial, this.health, this.reachWatch);
    // What one press of the pointer or a key changes is one step to take back.
    addEventListener('pointerdown', () => editor.mark(), { capture: true });
    const pressKey = (event: KeyboardEvent): void => {
      if (!event.repeat) editor.mark();
    };
    addEventListener('keydown', pressKey, { capture: true });
    editor.subscribe(() => {
      if (this.session.state.hand?.follow() === false) this.#setHand(null);
    });
    // Handwork belongs to its stage; what was done is kept with every stroke.
    this.session.subscribe(() => {
      const { stage, hand, pick, drapedId } = this.session.state;
      const isPickHere = !pick || stage === (pick.purpose === 'fit' ? 'bodies' : 'garment');
      if (stage !== 'levels') this.levels.hold(null);
      if (!isPickHere || (stage !== 'garment' && (hand || drapedId))) this.endEdits();
    });
    // The first trial waits until the first moving picture is up.
    this.trial.measure(this.#isWorthMeasuring() ? clip : null, 2500);
    if (version === null) void this.trials.open().then(() => this.#adoptFrames());
    // What the server has measured of the clip that is looked at need not be measured here.
    this.trials.onPart(() => {
      if (this.trial.store.state.isRunning) void this.#adoptFrames();
    });
  }

  /** Loads a character by id. */
  static async open(id: string, version: ViewedVersion | null = null): Promise<Workbench> {
    const { info, document, character, preparation } = await loadCharacter(id, version);
    return new Workbench(info, new Editor(character, document), preparation, version);
  }

  /** Makes everything as it was in a version, as one step. @returns Whether anything is different. */
  returnTo(version: ViewedVersion): Promise<boolean> {
    const { editor, saver, info } = this;
    return returnToVersion({ editor, saver, id: info.id }, version);
  }

  /** Stands still at a time of a clip (null: bind pose) and turns the eye to a place there, world space. */
  showPlace(clip: number | null, time: number, position: readonly [number, number, number]): void {
    this.playback.setPlaying(false);
    if (this.session.state.clip !== clip) this.setClip(clip);
    if (clip !== null) this.playback.seek(time);
    this.session.set({ focus: [...position] });
  }

  /** Another clip: remembered, and measured. */
  setClip(clip: number | null): void {
    this.#clipBefore = null;
    // Shapes are made in bind pose.
    const { hand, drapedId } = this.session.state;
    if (clip !== null && (hand?.kind === 'fit' || drapedId)) this.#setHand(null);
    this.playback.setClip(clip);
    this.editor.rememberClip(clip === null ? null : this.editor.character.clips[clip]!.name);
    this.trial.measure(this.#isWorthMeasuring() ? clip : null, 100);
    void this.#adoptFrames();
  }

  /** Begins to pick faces of a section. */
  pickFaces(sectionIndex: number, purpose: FacePick['purpose'] = 'cut'): void {
    const faces = getSectionMesh(this.editor.character, sectionIndex).faces.length / 3;
    this.#setHand(null);
    this.session.set({
      pick: {
        purpose,
        sectionIndex,
        isPicked: new Uint8Array(faces),
        radius: PICK_BRUSH * this.#scale,
        tool: 'brush',
        isThrough: false,
        isErasing: false,
      },
    });
  }

  /** Begins to paint the skin weights of a section. */
  weigh(section: SectionName): void {
    this.#setHand(new WeightWork(this.editor, this.preparing, section));
  }

  /** Begins to shape a section by hand, in bind pose. @param simulated - The mesh simulated in its place. */
  shape(section: SectionName, simulated: SectionName | null): void {
    this.#setHand(new FitWork(this.editor, this.preparing, section, simulated));
    this.standInBind();
  }

  /** Lets a garment fall in bind pose, to take its shape; null ends it. */
  drape(drapedId: RecordId | null): void {
    this.session.set({ drapedId });
    this.preview.send({ kind: 'drape', garmentId: drapedId });
    if (drapedId) this.standInBind();
  }

  /** Turns joints beside the clip. */
  turn(turns: readonly JointTurn[]): void {
    this.session.set({ turns });
    this.preview.send({ kind: 'turn', turns });
  }

  /** Ends what is worked on by hand; the clip from before plays on. */
  endEdits(): void {
    this.#setHand(null);
    if (this.session.state.turns.length > 0) this.turn([]);
    if (this.#clipBefore !== null) this.playback.setClip(this.#clipBefore);
    this.#clipBefore = null;
  }

  /** Back to the bind pose, with no joint turned; the clip before it stays the one that is measured. */
  standInBind(): void {
    if (this.session.state.turns.length > 0) this.turn([]);
    const { clip } = this.session.state;
    if (clip === null) return;
    this.#clipBefore = clip;
    this.playback.setClip(null);
  }

  selectGarment(garmentId: RecordId | null): void {
    this.session.set({ garmentId });
    if (this.session.state.hand || this.session.state.drapedId) this.endEdits();
  }

  #setHand(hand: Session['hand']): void {
    if (this.session.state.drapedId) this.drape(null);
    this.session.set({ hand, pick: null, marks: null });
  }

  #findClip(): number | null {
    const { clipName } = getScene(this.editor.document);
    const index = this.editor.character.clips.findIndex((clip) => clip.name === clipName);
    return index < 0 ? null : index;
  }

  /** Tells preview and trial of a change, with the sections when their preparation changed too. */
  #follow(diff: DocumentDiff, prepared: Prepared | null): void {
    // What is edited is of the document, not of what is looked at.
    this.search.look(null);
    this.preview.send({
      kind: 'patch',
      side: 0,
      patch: toPatch(diff),
      ...prepared,
    });
    this.trial.follow(diff, prepared);
    this.#keepSelection();
    if (prepared) this.session.set({ marks: null, pick: null });
    if (!prepared && !changesMotion(diff)) return;
    this.trials.noteMove();
    this.trial.measure(this.#isWorthMeasuring() ? this.session.state.clip : null);
  }

  /** Shows the character with a change, in the running cloth alone; null: as it is. */
  #look(diff: DocumentDiff | null): void {
    const patch = (change: DocumentDiff): void =>
      this.preview.send({ kind: 'patch', side: 0, patch: toPatch(change) });
    if (this.#looked) patch(invertDiff(this.#looked));
    if (diff) patch(diff);
    this.#looked = diff;
  }

  /** What a trial on the server measured of this very state and clip need not be measured here. */
  async #adoptFrames(): Promise<void> {
    const { clip } = this.session.state;
    if (clip === null) return;
    const rows = await this.trials.findRows(clip).catch(() => null);
    if (rows && this.session.state.clip === clip) this.trial.adopt(clip, rows);
  }

  #isWorthMeasuring(): boolean {
    return listGarments(this.editor.document).length > 0;
  }

  /** A garment or body that went (by undo, or in another window) is no longer selected. */
  #keepSelection(): void {
    const { garmentId, bodyIds } = this.session.state;
    const { records } = this.editor.document;
    if (garmentId && !records.has(garmentId)) {
      const garments = listGarments(this.editor.document);
      this.session.set({ garmentId: garments[garments.length - 1]?.id ?? null });
    }
    const kept = bodyIds.filter((id) => records.has(id));
    if (kept.length < bodyIds.length) this.session.set({ bodyIds: kept });
  }
}

export const WorkbenchContext = createContext<Workbench | null>(null);

export function useWorkbench(): Workbench {
  const workbench = useContext(WorkbenchContext);
  if (!workbench)
    throw new Error('useWorkbench needs a WorkbenchContext above it: render inside <WorkbenchView>.');
  return workbench;
}

/** Whether everything is saved; renders anew when that changes. */
export function useSaveState(): SaveState {
  const { saver } = useWorkbench();
  const read = (): SaveState => saver.state;
  return useSyncExternalStore(saver.subscribe, read, read);
}

/** Renders anew when the authored document changes, once for a stroke. @returns The editor, to read from. */
export function useDocument(): Editor {
  const { editor } = useWorkbench();
  const read = (): number => editor.viewRevision;
  useSyncExternalStore(editor.subscribeView, read, read);
  return editor;
}
