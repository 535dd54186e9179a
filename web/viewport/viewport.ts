import { Box3, DirectionalLight, HemisphereLight, Scene, Vector3, WebGLRenderer } from 'three';
import { type DocumentDiff, getScene, type RecordId } from '../../core/document/index.ts';
import { type FigureSize, findFront, type Skeleton } from '../../core/rig/index.ts';
import type { CursorReading } from '../state/cursor-reading.ts';
import { getFigure } from '../state/get-figure.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Session, Visibility } from '../state/session.ts';
import { themeStore } from '../state/theme.ts';
import type { PreviewStats } from '../workers/preview-protocol.ts';
import { BodiesOverlay } from './bodies-overlay.ts';
import type { BodiesView } from './bodies-view.ts';
import { BodyTool } from './body-tool.ts';
import { BoundView } from './bound-view.ts';
import { BrushCursor } from './brush-cursor.ts';
import { DrawClock } from './draw-clock.ts';
import { DrawnCharacter } from './drawn-character.ts';
import { Eye } from './eye.ts';
import { FigureGround } from './figure-ground.ts';
import { findFirstGarment } from './find-garment.ts';
import { FitTool } from './fit-tool.ts';
import { Floor } from './floor.ts';
import { KeyPointer } from './key-pointer.ts';
import { OutlineDrawing } from './outline-drawing.ts';
import { PaintTool } from './paint-tool.ts';
import { PickTool } from './pick-tool.ts';
import { PointsTool } from './points-tool.ts';
import { PullTool } from './pull-tool.ts';
import { ReachView } from './reach-view.ts';
import { ToolBelt } from './tool-belt.ts';
import type { ViewportSource } from './viewport-source.ts';
import { WeightTool } from './weight-tool.ts';

const UP = new Vector3(0, 1, 0);

/**
 * The drawn character: takes finished frames from shared memory, follows document and session, and gives the
 * pointer to the tool of the stage. Draws only when something changed.
 */
export class Viewport {
  readonly #source: ViewportSource;
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #container: HTMLElement;
  readonly #eye: Eye;
  /** Moved by arrow keys. */
  readonly keyPointer: KeyPointer;
  readonly #clock: DrawClock;
  readonly #drawn: DrawnCharacter;
  readonly #floor = new Floor();
  readonly #ground = new FigureGround(this.#floor);
  readonly #cursor = new BrushCursor();
  readonly #outline: OutlineDrawing;
  readonly #bound: BoundView;
  readonly #reachView: ReachView;
  readonly #overlay: BodiesOverlay;
  readonly #belt: ToolBelt;
  readonly #cleanups: (() => void)[] = [];
  #figure!: FigureSize;
  /** What the eye stood before. */
  #placed: { skeleton: Skeleton; front: number | null } | null = null;
  #focus: Session['focus'] = null;
  #stats: PreviewStats | null = null;
  #frameCount = -1;

  constructor(
    container: HTMLElement,
    source: ViewportSource,
    onReading: (reading: CursorReading | null) => void,
  ) {
    this.#container = container;
    this.#source = source;
    this.#renderer = createRenderer(source.session.state.lightDrawing);
    const canvas = this.#renderer.domElement;
    container.append(canvas);
    this.#scene.add(...createLights(), this.#floor.mesh, this.#cursor.group);
    const ask = (): void => this.#clock.ask();
    this.#clock = new DrawClock(
      () => this.#look(),
      () => this.#draw(),
    );
    this.#eye = new Eye(container, canvas, ask);
    this.keyPointer = new KeyPointer(container);
    this.#fitFigure();
    this.#outline = new OutlineDrawing(container);
    this.#reachView = new ReachView(source, this.#scene);
    this.#drawn = new DrawnCharacter(
      source,
      this.#scene,
      () => this.#reachView.drop(),
      () => this.#followState(),
    );
    this.#overlay = new BodiesOverlay(source, this.#scene, this.#drawn);
    this.#overlay.setSize(this.#figure.size);
    this.#bound = new BoundView(source, this.#scene, () => this.#followState());
    this.#belt = new ToolBelt(source, { container, eye: this.#eye }, this.#createTools(onReading), ask);
    this.#listen();
    this.frameAll();
  }

  /** Eye and floor for a figure of this size. */
  #fitFigure(): void {
    this.#figure = getFigure(this.#source.editor.character);
    const { size, lowest } = this.#figure;
    this.#eye.setScale(size);
    // What hangs in the air has the floor below it, not where the file has its zero.
    this.#floor.fit(size, Math.abs(lowest) < 0.25 * size ? 0 : lowest);
  }

  #createTools(
    onReading: (reading: CursorReading | null) => void,
  ): ConstructorParameters<typeof ToolBelt>[2] {
    const [source, cursor, { camera }, outline] = [this.#source, this.#cursor, this.#eye, this.#outline];
    const getBound = () => this.#bound.mesh;
    const getSelected = () => this.#drawn.selected;
    return {
      pick: new PickTool(source, camera, outline, getBound),
      weights: new WeightTool(source, cursor, getBound, onReading),
      fit: new FitTool(source, cursor, camera, getBound),
      reach: new PaintTool(source, cursor, getSelected, onReading),
      points: new PointsTool(source, cursor, camera, outline, getSelected),
      bodies: new BodyTool(source, this.bodies, camera),
      fabric: new PullTool(source, camera, () => this.#drawn.garments),
    };
  }

  /** Bodies as they stand now, for tests and for the page to point at. */
  get bodies(): BodiesView {
    return this.#overlay.view;
  }

  /** Bodies that cloth lies on now. */
  get touchedBodies(): ReadonlySet<RecordId> {
    return this.#overlay.touched;
  }

  /** Turns the eye to the whole character, from before it. */
  frameAll(): void {
    const { middle, width, height, depth } = this.#figure;
    const radius = Math.max(0.56 * height, 0.5 * Math.hypot(width, depth));
    const { character, document } = this.#source.editor;
    const front = getScene(document).front ?? findFront(character, this.#figure) ?? 0;
    const from = new Vector3(0.42, 0.1, 1).applyAxisAngle(UP, (front * Math.PI) / 180);
    this.#lookAt(new Vector3(...middle), radius, from);
  }

  /** Turns the eye to the selected garment, or to the whole. */
  frameSelected(): void {
    const garment = this.#drawn.selected;
    if (!garment) {
      this.frameAll();
      return;
    }
    const box = new Box3().setFromArray(garment.pointPositions);
    this.#lookAt(box.getCenter(new Vector3()), 0.5 * box.getSize(new Vector3()).length());
  }

  /** Turns the eye to a place, from where it is. */
  framePosition(position: readonly [number, number, number]): void {
    this.#lookAt(new Vector3(...position), 0.165 * this.#figure.size);
  }

  /** Turns the eye to the first of some vertices of a garment's section, as it is drawn now. */
  frameVertex(sectionIndex: number, vertex: number): void {
    const position = this.#drawn.getVertexPosition(sectionIndex, vertex);
    if (position) this.framePosition(position);
  }

  /** Turns the eye about what it looks at. @param around, up - rad. */
  turnView(around: number, up: number): void {
    this.#eye.turn(around, up);
    this.#clock.ask();
  }

  /** Where a world place is on the canvas, in CSS pixels. */
  project(position: readonly [number, number, number]): [number, number] {
    return this.#eye.project(position);
  }

  /** The garment drawn at a place of the page (CSS pixels), or null. */
  findGarmentAt(clientX: number, clientY: number): RecordId | null {
    const ray = this.#eye.castFrom({ clientX, clientY });
    return findFirstGarment(this.#drawn.garments, ray)?.garment.garmentId ?? null;
  }

  /** Angle about the vertical that the eye looks along, rad: 0 is +Z, π/2 is +X. */
  get heading(): number {
    return this.#eye.heading;
  }

  /** Share of the picture's height that the character takes, standing where the eye looks. @param height - m. */
  tellShare(height: number): number {
    return this.#eye.tellShare(height);
  }

  /** Looks from where another viewport looks, from now on. @returns Stops it. */
  follow(other: Viewport): () => void {
    return this.#eye.follow(other.#eye, () => this.#clock.ask());
  }

  /** While it is on, drags turn the view, whatever the tool. */
  setTurning(isTurning: boolean): void {
    this.#belt.setTurning(isTurning);
  }

  /** The brush takes the value under the cursor. @returns It, or null beside the garment or with another tool. */
  pickValue(): number | null {
    return this.#belt.pickValue();
  }

  dispose(): void {
    for (const cleanup of this.#cleanups) cleanup();
    this.#reachView.drop();
    for (const part of [
      this.#clock,
      this.#belt,
      this.#drawn,
      this.#overlay,
      this.#floor,
      this.#cursor,
      this.#bound,
      this.#outline,
      this.#eye,
      this.keyPointer,
      this.#renderer,
    ])
      part.dispose();
    this.#renderer.domElement.remove();
  }

  #lookAt(target: Vector3, radius: number, from?: Vector3): void {
    this.#eye.lookAt(target, radius, from);
    this.#clock.ask();
  }

  #listen(): void {
    const { editor, session, preview, reach, bodyFigures, looks } = this.#source;
    const follow = (): void => this.#followState();
    this.#cleanups.push(
      session.subscribe(follow),
      themeStore.subscribe(follow),
      editor.subscribeView(follow),
      editor.onDiff((diff) => this.#recolour(diff)),
      preview.store.subscribe(() => this.#followPreview()),
    );
    if (looks) this.#cleanups.push(looks.store.subscribe(follow));
    if (reach) this.#cleanups.push(reach.store.subscribe(follow));
    if (bodyFigures) this.#cleanups.push(bodyFigures.store.subscribe(() => this.#followFit()));
    const resize = new ResizeObserver(() => {
      const { clientWidth, clientHeight } = this.#container;
      if (clientWidth === 0 || clientHeight === 0) return;
      const isFirst = this.#eye.setSize(clientWidth, clientHeight);
      this.#renderer.setSize(clientWidth, clientHeight);
      if (isFirst) this.frameAll();
      this.#clock.ask();
    });
    resize.observe(this.#container);
    this.#cleanups.push(() => resize.disconnect());
  }

  #followPreview(): void {
    const { stats } = this.#source.preview.store.state;
    if (stats && stats !== this.#stats) this.#clock.giveWay(stats.skippedFrames);
    this.#stats = stats;
    this.#clock.ask();
  }

  /** Other figures change colours, and nothing else. */
  #followFit(): void {
    this.#overlay.follow(this.#source.session.state);
    this.#clock.ask();
  }

  /** With each animation frame: takes the newest frame of the run over. */
  #look(): void {
    const frame = this.#source.preview.readFrame();
    if (!frame || frame.count === this.#frameCount) return;
    this.#frameCount = frame.count;
    this.#source.looks?.load();
    if (this.#drawn.takeFrame(frame)) {
      this.#overlay.refreshFit();
      this.#followState();
    }
    this.#takeFrame(frame);
    this.#clock.ask();
  }

  #draw(): void {
    const view = this.#eye.getScreenView();
    for (const garment of this.#drawn.garments) garment.spreadMarks(view);
    this.#drawn.orderCards(view.eye);
    this.#renderer.render(this.#scene, this.#eye.camera);
  }

  #takeFrame(frame: PreviewFrame): void {
    const { character } = this.#source.editor;
    const { layout, floats } = frame;
    this.#reachView.update(floats);
    this.#bound.update(frame);
    const nodes = floats.subarray(layout.nodes, layout.nodes + 16 * character.skeleton.names.length);
    this.#overlay.update(frame, nodes);
    this.#ground.update(character, frame, nodes, this.#source.preview.travels[frame.clip] ?? [0, 0]);
  }

  /** A stroke changes the colours of what it paints, and nothing else. */
  #recolour({ records, arrays }: DocumentDiff): void {
    // What else changed is looked at as a whole.
    if (records.size > 0) return;
    for (const id of arrays.keys()) {
      const map = this.#source.editor.document.records.get(id);
      if (map?.type !== 'channel') continue;
      const garment = this.#drawn.garments.find(({ garmentId }) => garmentId === map.garmentId);
      if (garment) garment.setColouring(this.#reachView.colour(garment));
    }
    if (this.#source.session.state.stage === 'reach') this.#reachView.follow(this.#drawn.selected);
    this.#clock.ask();
  }

  /** Stands before a character that was scaled, turned, or told to face elsewhere. */
  #followPlacement(): void {
    const { character, document } = this.#source.editor;
    const { skeleton } = character;
    const { front } = getScene(document);
    if (skeleton === this.#placed?.skeleton && front === this.#placed.front) return;
    const isFirst = this.#placed === null;
    const isOther = skeleton !== this.#placed?.skeleton;
    this.#placed = { skeleton, front };
    if (isFirst) return;
    if (isOther) {
      this.#fitFigure();
      this.#overlay.setSize(this.#figure.size);
    }
    this.frameAll();
  }

  #followState(): void {
    this.#followPlacement();
    // What was made anew has no numbers yet, and while everything stands still no other frame comes.
    if (this.#drawn.followCharacter()) {
      this.#frameCount = -1;
      this.#overlay.refreshFit();
    }
    const { session } = this.#source;
    const { state } = session;
    this.#bound.follow();
    const isReach = state.stage === 'reach';
    this.#drawn.setView({
      getVisibility: (index) => (index === this.#bound.sectionIndex ? 'hidden' : getVisibility(state, index)),
      showTriangles: state.showTriangles,
      isClay: state.isClay,
      // Reach is painted on the sim mesh: what is drawn in its place would hide it.
      showsSimMesh: ({ garmentId }) => isReach && garmentId === state.garmentId,
      getGarmentView: (garment) => ({
        showSimMesh: state.stage === 'simMesh' && garment.garmentId === state.garmentId,
        showReach: isReach,
        showWhiskers: state.showWhiskers && state.channel === 'maxDistance',
        isSelected: garment.garmentId === state.garmentId,
        ...this.#reachView.colour(garment),
      }),
    });
    this.#reachView.follow(isReach ? this.#drawn.selected : null);
    this.#overlay.follow(state);
    if (state.focus && state.focus !== this.#focus) this.framePosition(state.focus);
    this.#focus = state.focus;
    const hasMarks = state.stage === 'garment' || state.stage === 'simMesh' || isReach;
    if (this.#drawn.showMarks(hasMarks ? state.marks : null))
      this.frameVertex(state.marks!.sectionIndex, state.marks!.vertices[0]!);
    this.#belt.followStage();
    this.#clock.ask();
  }
}

function getVisibility(state: Session, sectionIndex: number): Visibility {
  // Skin is picked beneath what is worn over it.
  if (state.pick?.purpose === 'fit' && sectionIndex !== state.pick.sectionIndex) return 'ghost';
  if (state.isolated !== null) return state.isolated === sectionIndex ? 'shown' : 'hidden';
  return state.visibility.get(sectionIndex) ?? 'shown';
}

function createRenderer(isLight: boolean): WebGLRenderer {
  const renderer = new WebGLRenderer({
    antialias: !isLight,
    alpha: true,
    powerPreference: 'high-performance',
  });
  renderer.setPixelRatio(isLight ? 1 : Math.min(2, devicePixelRatio));
  renderer.domElement.style.touchAction = 'none';
  renderer.domElement.style.display = 'block';
  return renderer;
}

function createLights(): (HemisphereLight | DirectionalLight)[] {
  const sky = new HemisphereLight('#FFFDF6', '#8C8374', 1.9);
  const key = new DirectionalLight('#FFF4DF', 1.7);
  key.position.set(-1.4, 2.6, 2.2);
  const rim = new DirectionalLight('#DCE6EC', 0.7);
  rim.position.set(2.2, 1.2, -1.6);
  return [sky, key, rim];
}
