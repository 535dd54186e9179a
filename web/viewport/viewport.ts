import {
  Box3,
  DirectionalLight,
  HemisphereLight,
  Matrix4,
  MOUSE,
  PerspectiveCamera,
  Raycaster,
  Scene,
  Spherical,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { listBodies, listGarments, type RecordId } from '../../core/document/index.ts';
import type { Character, Section } from '../../core/rig/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Marks, Session, Visibility } from '../state/session.ts';
import { stepBrushRadius, stepBrushValue } from '../state/step-brush.ts';
import type { FrameLayout } from '../workers/preview-protocol.ts';
import { BodiesView } from './bodies-view.ts';
import { BodyTool } from './body-tool.ts';
import { BrushCursor } from './brush-cursor.ts';
import { findFirstGarment } from './find-garment.ts';
import { FitTool } from './fit-tool.ts';
import { Floor } from './floor.ts';
import { GarmentMesh } from './garment-mesh.ts';
import { MarkPoints } from './mark-points.ts';
import { OutlineDrawing } from './outline-drawing.ts';
import { type CursorReading, PaintTool } from './paint-tool.ts';
import { PickTool } from './pick-tool.ts';
import type { PointerTool } from './pointer-tool.ts';
import { PointsTool } from './points-tool.ts';
import { PullTool } from './pull-tool.ts';
import { ReachView } from './reach-view.ts';
import { RenderMesh } from './render-mesh.ts';
import type { ScreenView } from './screen-spacing.ts';
import { SkinnedSection } from './skinned-section.ts';
import type { ViewportSource } from './viewport-source.ts';
import { WeightTool } from './weight-tool.ts';
import { WornView } from './worn-view.ts';

const FIELD_OF_VIEW = 26;
/** A drawing slower than this is the processors' work. */
const SLOW_DRAW_MS = 24;

/**
 * The drawn character: takes finished frames from shared memory, follows document and session, and gives the
 * pointer to the tool of the stage. Draws only when something changed.
 */
export class Viewport {
  readonly #source: ViewportSource;
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #camera = new PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 60);
  readonly #controls: OrbitControls;
  readonly #container: HTMLElement;
  readonly #sections = new Map<number, SkinnedSection>();
  readonly #garments: GarmentMesh[] = [];
  readonly #renders: RenderMesh[] = [];
  /** Section that each drawn one was made of. */
  readonly #drawnSections = new Map<number, Section>();
  #marks: { from: Marks; drawn: MarkPoints | null } | null = null;
  readonly #bodies = new BodiesView();
  readonly #floor = new Floor();
  readonly #cursor = new BrushCursor();
  readonly #outline: OutlineDrawing;
  readonly #worn: WornView;
  readonly #paintTool: PaintTool;
  readonly #tools: Record<'pick' | 'weights' | 'fit' | 'reach' | 'points' | 'bodies' | 'fabric', PointerTool>;
  readonly #reachView: ReachView;
  /** The tool that the pointer had last: told when it is another's turn. */
  #activeTool: PointerTool | null = null;
  readonly #cleanups: (() => void)[] = [];
  #layout: FrameLayout | null = null;
  /** That the drawn sections are of. */
  #shownCharacter: Character | null = null;
  #drawnCount = -1;
  #needsDraw = true;
  #isPressed = false;
  #isTurning = false;
  #frameRequest = 0;

  constructor(
    container: HTMLElement,
    source: ViewportSource,
    onReading: (reading: CursorReading | null) => void,
  ) {
    this.#container = container;
    this.#source = source;
    const { lightDrawing } = source.session.state;
    this.#renderer = new WebGLRenderer({
      antialias: !lightDrawing,
      alpha: true,
      powerPreference: 'high-performance',
    });
    this.#renderer.setPixelRatio(lightDrawing ? 1 : Math.min(2, devicePixelRatio));
    container.append(this.#renderer.domElement);
    this.#scene.add(...createLights(), this.#floor.mesh, this.#bodies.group, this.#cursor.group);
    this.#controls = this.#createControls();
    this.#outline = new OutlineDrawing(container);
    this.#reachView = new ReachView(source, this.#scene);
    this.#worn = new WornView(source, this.#scene, () => this.#followState());
    const getWorn = () => this.#worn.mesh;
    this.#paintTool = new PaintTool(source, this.#cursor, () => this.#getSelectedGarment(), onReading);
    this.#tools = {
      pick: new PickTool(source, this.#camera, this.#outline, getWorn),
      weights: new WeightTool(source, this.#cursor, getWorn, onReading),
      fit: new FitTool(source, this.#cursor, this.#camera, getWorn),
      reach: this.#paintTool,
      points: new PointsTool(source, this.#cursor, this.#camera, this.#outline, () =>
        this.#getSelectedGarment(),
      ),
      bodies: new BodyTool(source, this.#bodies, this.#camera),
      fabric: new PullTool(source, this.#camera, () => this.#garments),
    };
    this.#listen();
    this.frameAll();
    this.#frameRequest = requestAnimationFrame(this.#draw);
  }

  /** Turns the eye to the whole character. */
  frameAll(): void {
    const { report } = this.#source;
    const height = Math.max(0.2, report.size.height);
    this.#lookAt(new Vector3(0, 0.5 * height, 0), 0.56 * height, new Vector3(0.42, 0.1, 1));
  }

  /** Turns the eye to the selected garment, or to the whole. */
  frameSelected(): void {
    const garment = this.#getSelectedGarment();
    if (!garment) {
      this.frameAll();
      return;
    }
    const box = new Box3().setFromArray(garment.pointPositions);
    const center = box.getCenter(new Vector3());
    this.#lookAt(
      center,
      0.5 * box.getSize(new Vector3()).length(),
      this.#camera.position.clone().sub(this.#controls.target),
    );
  }

  /** Turns the eye to a place, from where it is. */
  framePlace(place: readonly [number, number, number]): void {
    this.#lookAt(new Vector3(...place), 0.3, this.#camera.position.clone().sub(this.#controls.target));
  }

  /** Where a world place is on the canvas, in CSS pixels. */
  project(place: readonly [number, number, number]): [number, number] {
    const p = new Vector3(...place).project(this.#camera);
    return [((p.x + 1) / 2) * this.#container.clientWidth, ((1 - p.y) / 2) * this.#container.clientHeight];
  }

  /** The garment drawn at a place of the page (CSS pixels), or null. */
  findGarmentAt(clientX: number, clientY: number): RecordId | null {
    return findFirstGarment(this.#garments, this.#castFrom({ clientX, clientY }))?.garment.garmentId ?? null;
  }

  /** Angle about the vertical that the eye looks along, rad: 0 is +Z, π/2 is +X. */
  get heading(): number {
    const facing = this.#camera.getWorldDirection(new Vector3());
    return Math.atan2(facing.x, facing.z);
  }

  /** Looks from where another viewport looks, from now on. @returns Stops it. */
  follow(other: Viewport): () => void {
    const copy = (): void => {
      if (
        this.#camera.position.equals(other.#camera.position) &&
        this.#controls.target.equals(other.#controls.target)
      ) {
        return;
      }
      this.#camera.position.copy(other.#camera.position);
      this.#controls.target.copy(other.#controls.target);
      this.#controls.update();
      this.#needsDraw = true;
    };
    other.#controls.addEventListener('change', copy);
    return () => other.#controls.removeEventListener('change', copy);
  }

  /** Bodies as they stand now, for tests and for the page to point at. */
  get bodies(): BodiesView {
    return this.#bodies;
  }

  dispose(): void {
    cancelAnimationFrame(this.#frameRequest);
    this.#reachView.drop();
    for (const cleanup of this.#cleanups) cleanup();
    for (const part of [
      ...this.#sections.values(),
      ...this.#garments,
      ...this.#renders,
      this.#bodies,
      this.#floor,
      this.#cursor,
      this.#worn,
      this.#outline,
    ])
      part.dispose();
    this.#controls.dispose();
    this.#renderer.dispose();
    this.#renderer.domElement.remove();
  }

  #createControls(): OrbitControls {
    const controls = new OrbitControls(this.#camera, this.#renderer.domElement);
    controls.mouseButtons = { LEFT: MOUSE.ROTATE, RIGHT: MOUSE.PAN };
    controls.zoomSpeed = 1.2;
    controls.minDistance = 0.2;
    controls.maxDistance = 30;
    controls.enableDamping = false;
    controls.addEventListener('change', () => {
      this.#needsDraw = true;
    });
    return controls;
  }

  #lookAt(target: Vector3, radius: number, from: Vector3): void {
    const aspect = this.#camera.aspect || 1;
    const half = Math.atan(Math.tan((FIELD_OF_VIEW * Math.PI) / 360) * Math.min(1, aspect));
    this.#controls.target.copy(target);
    this.#camera.position.copy(target).addScaledVector(from.normalize(), (1.06 * radius) / Math.sin(half));
    this.#controls.update();
    this.#needsDraw = true;
  }

  #listen(): void {
    const { editor, session, preview } = this.#source;
    const follow = (): void => this.#followState();
    this.#cleanups.push(session.subscribe(follow), editor.subscribe(follow));
    const { reach } = this.#source;
    if (reach) this.#cleanups.push(reach.store.subscribe(follow));
    this.#cleanups.push(
      preview.store.subscribe(() => {
        this.#needsDraw = true;
      }),
    );
    const resize = new ResizeObserver(() => {
      const { clientWidth, clientHeight } = this.#container;
      if (clientWidth === 0 || clientHeight === 0) return;
      const isFirst = this.#camera.aspect === 1;
      this.#camera.aspect = clientWidth / clientHeight;
      this.#camera.updateProjectionMatrix();
      this.#renderer.setSize(clientWidth, clientHeight);
      if (isFirst) this.frameAll();
      this.#needsDraw = true;
    });
    resize.observe(this.#container);
    this.#cleanups.push(() => resize.disconnect());
    const canvas = this.#renderer.domElement;
    const on = <K extends keyof HTMLElementEventMap>(
      kind: K,
      handle: (event: HTMLElementEventMap[K]) => void,
    ): void => {
      // Before the camera controls, which listen on the canvas itself.
      this.#container.addEventListener(kind, handle, { capture: true });
      this.#cleanups.push(() => this.#container.removeEventListener(kind, handle, { capture: true }));
    };
    on('pointerdown', (event) => this.#press(event));
    on('pointermove', (event) => this.#move(event));
    on('pointerup', (event) => this.#release(event));
    // Capturing the pointer makes it "leave" the canvas inside: only leaving the container counts, and not in a drag.
    on('pointerleave', (event) => {
      if (event.target === this.#container && !this.#isPressed) this.#tool?.leave();
    });
    const turn = (event: WheelEvent): void => this.#turnWheel(event);
    this.#container.addEventListener('wheel', turn, { capture: true, passive: false });
    this.#cleanups.push(() => this.#container.removeEventListener('wheel', turn, { capture: true }));
    canvas.style.touchAction = 'none';
    canvas.style.display = 'block';
  }

  get #tool(): PointerTool | null {
    const { stage, hand, drapedId } = this.#source.session.state;
    if (stage === 'garment') return this.#tools[drapedId ? 'fabric' : (hand?.kind ?? 'pick')];
    if (stage === 'reach') {
      const tab = this.#source.reach?.store.state.tab;
      return this.#tools[tab === 'points' || tab === 'ramp' ? 'points' : 'reach'];
    }
    return stage === 'bodies' || stage === 'fabric' ? this.#tools[stage] : null;
  }

  /** While it is on, drags turn the view, whatever the tool. */
  setTurning(isTurning: boolean): void {
    this.#isTurning = isTurning;
    this.#container.style.cursor = isTurning ? 'grab' : '';
    if (isTurning && !this.#isPressed) this.#tool?.leave();
  }

  /** Turns the eye about what it looks at. @param around, up - rad. */
  turnView(around: number, up: number): void {
    const target = this.#controls.target;
    const seen = new Spherical().setFromVector3(this.#camera.position.clone().sub(target));
    seen.theta -= around;
    seen.phi -= up;
    this.#camera.position.copy(target).add(new Vector3().setFromSpherical(seen.makeSafe()));
    this.#controls.update();
    this.#needsDraw = true;
  }

  #press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const tool = this.#isTurning ? null : this.#tool;
    const isTaken = tool?.press(this.#castFrom(event), event) ?? false;
    this.#isPressed = isTaken;
    this.#controls.enabled = !isTaken;
    if (isTaken) this.#container.setPointerCapture(event.pointerId);
    this.#needsDraw = true;
  }

  #move(event: PointerEvent): void {
    if (this.#isTurning && !this.#isPressed) return;
    this.#tool?.move(this.#castFrom(event), event, this.#isPressed);
    this.#needsDraw = true;
  }

  #release(event: PointerEvent): void {
    if (!this.#isPressed) return;
    this.#isPressed = false;
    this.#controls.enabled = true;
    this.#tool?.release(event);
  }

  /** With Shift the wheel changes the brush's value, with Alt its size; without, it goes nearer. */
  #turnWheel(event: WheelEvent): void {
    const { session } = this.#source;
    if (this.#tool !== this.#paintTool || !(event.shiftKey || event.altKey)) return;
    event.preventDefault();
    event.stopPropagation();
    // With Shift some systems turn the wheel sideways.
    const steps = -Math.sign(event.deltaY || event.deltaX);
    if (event.shiftKey) stepBrushValue(session, steps);
    else stepBrushRadius(session, steps);
    this.#paintTool.followBrush();
    this.#needsDraw = true;
  }

  #castFrom(event: Pick<PointerEvent, 'clientX' | 'clientY'>): Raycaster['ray'] {
    const box = this.#container.getBoundingClientRect();
    const caster = new Raycaster();
    const x = ((event.clientX - box.left) / box.width) * 2 - 1;
    const y = 1 - ((event.clientY - box.top) / box.height) * 2;
    caster.setFromCamera(new Vector2(x, y), this.#camera);
    return caster.ray;
  }

  #draw = (): void => {
    this.#frameRequest = requestAnimationFrame(this.#draw);
    const frame = this.#source.preview.readFrame();
    if (frame && frame.count !== this.#drawnCount) {
      if (frame.layout !== this.#layout) this.#takeLayout(frame.layout);
      this.#takeFrame(frame);
      this.#drawnCount = frame.count;
      this.#needsDraw = true;
    }
    if (!this.#needsDraw || !this.#mayDraw()) return;
    this.#needsDraw = false;
    const view = this.#getView();
    for (const garment of this.#garments) garment.spreadMarks(view);
    this.#renderer.render(this.#scene, this.#camera);
    this.#drawnAt = performance.now();
    this.#isDrawing = true;
  };

  #getView(): ScreenView {
    this.#camera.updateMatrixWorld();
    const { clientWidth: width, clientHeight: height } = this.#container;
    const { projectionMatrix, matrixWorldInverse, position } = this.#camera;
    const matrix = new Matrix4().multiplyMatrices(projectionMatrix, matrixWorldInverse).elements;
    return { matrix, eye: [position.x, position.y, position.z], width, height };
  }

  #drawnAt = 0;
  #drawMs = 0;
  #isDrawing = false;

  /**
   * Without a graphics card the same processors draw and simulate. A drawing that takes long is followed by a rest
   * as long, so that the solver keeps its sixty frames; a fast one is followed by none.
   */
  #mayDraw(): boolean {
    const now = performance.now();
    if (this.#isDrawing) {
      // The first animation frame after a drawing comes when it is done.
      this.#drawMs += 0.3 * (now - this.#drawnAt - this.#drawMs);
      this.#isDrawing = false;
    }
    const rest = this.#drawMs > SLOW_DRAW_MS ? this.#drawMs : 0;
    return now - this.#drawnAt >= this.#drawMs + rest - 1;
  }

  #takeFrame(frame: PreviewFrame): void {
    const { character } = this.#source.editor;
    const { layout, floats } = frame;
    const matricesOf = (skin: number): Float32Array => {
      const start = layout.skins[skin]!;
      return floats.subarray(start, start + 16 * character.skins[skin]!.joints.length);
    };
    for (const [index, section] of this.#sections) {
      const { skin, morphs } = this.#drawnSections.get(index)!;
      const start = layout.morphs[index]!;
      section.update(matricesOf(skin), floats.subarray(start, start + morphs.length));
    }
    for (const garment of this.#garments) garment.update(floats);
    for (const render of this.#renders) render.update(floats);
    this.#reachView.update(floats);
    this.#worn.update(frame);
    const nodes = floats.subarray(layout.nodes, layout.nodes + 16 * character.skeleton.names.length);
    this.#bodies.update(nodes);
    const [x, z] = this.#source.preview.travels[frame.clip] ?? [0, 0];
    const duration = character.clips[frame.clip]?.duration ?? 0;
    const share = duration > 0 ? frame.time / duration : 0;
    const hips = this.#findMiddleJoint();
    this.#floor.update(x * share, z * share, nodes[16 * hips + 12]!, nodes[16 * hips + 14]!);
  }

  #middleJoint = -1;

  /** The joint that most of the skeleton hangs from below the root: its place is where the figure stands. */
  #findMiddleJoint(): number {
    if (this.#middleJoint >= 0) return this.#middleJoint;
    const { character } = this.#source.editor;
    const skin = character.skins[character.sections[0]!.skin]!;
    const { parents } = character.skeleton;
    const joints = new Set(skin.joints);
    const forks = [...joints].find(
      (joint) => parents.filter((parent, child) => parent === joint && joints.has(child)).length > 1,
    );
    this.#middleJoint = forks ?? skin.joints[0]!;
    return this.#middleJoint;
  }

  /** Another list of garments: sections change between following their joints and being simulated. */
  #takeLayout(layout: FrameLayout): void {
    const { character } = this.#source.editor;
    this.#layout = layout;
    this.#shownCharacter = character;
    this.#dropMarks();
    const simulated = new Set(
      layout.garments.flatMap((garment) => [
        garment.sectionIndex,
        ...garment.renders.map((render) => render.sectionIndex),
      ]),
    );
    const isDrawn = (index: number): boolean =>
      !simulated.has(index) && !character.sections[index]!.isSimMesh;
    for (const [index, known] of this.#sections) {
      const section = character.sections[index];
      if (section && isDrawn(index) && this.#drawnSections.get(index) === section) continue;
      this.#scene.remove(known.mesh);
      known.dispose();
      this.#sections.delete(index);
    }
    character.sections.forEach((section, index) => {
      if (!isDrawn(index) || this.#sections.has(index)) return;
      const made = new SkinnedSection(section, character.skins[section.skin]!, index);
      this.#sections.set(index, made);
      this.#drawnSections.set(index, section);
      this.#scene.add(made.mesh);
    });
    this.#takeGarments(layout);
    this.#followState();
  }

  /** Meshes of what is simulated; those of sections that did not change stay. */
  #takeGarments(layout: FrameLayout): void {
    const { character } = this.#source.editor;
    const before = [...this.#garments.splice(0), ...this.#renders.splice(0)];
    for (const garment of layout.garments) {
      const section = character.sections[garment.sectionIndex];
      // A frame of a preparation that the page does not know yet, or no longer: the next layout follows at once.
      if (!section || section.positions.length !== 3 * garment.vertexCount) continue;
      const known = before.find(
        (part): part is GarmentMesh => part instanceof GarmentMesh && part.fits(section, garment),
      );
      known?.takeLayout(garment);
      this.#garments.push(known ?? new GarmentMesh(section, garment));
      for (const render of garment.renders) {
        const drawn = character.sections[render.sectionIndex];
        if (drawn?.positions.length !== 3 * render.vertexCount) continue;
        const bound = before.find(
          (part): part is RenderMesh => part instanceof RenderMesh && part.fits(drawn, garment.id),
        );
        bound?.takeLayout(render);
        this.#renders.push(bound ?? new RenderMesh(drawn, garment.id, render));
      }
    }
    const parts = new Set<GarmentMesh | RenderMesh>([...this.#garments, ...this.#renders]);
    for (const part of before) {
      if (parts.has(part)) continue;
      this.#scene.remove(part.mesh);
      part.dispose();
    }
    for (const part of parts) if (!part.mesh.parent) this.#scene.add(part.mesh);
    // What stands over a garment belongs to its mesh.
    if (before.some((part) => !parts.has(part))) this.#reachView.drop();
  }

  /** Other skin weights come without another layout: the sections that follow joints are drawn with them all the same. */
  #followCharacter(): void {
    const { character } = this.#source.editor;
    const layout = this.#layout;
    if (!layout || character === this.#shownCharacter) return;
    const isSameShape =
      character.sections.length === layout.morphs.length &&
      layout.garments.every(
        ({ sectionIndex, vertexCount }) =>
          character.sections[sectionIndex]?.positions.length === 3 * vertexCount,
      );
    // With another shape another layout is on its way.
    if (!isSameShape) return;
    this.#takeLayout(layout);
    // What was made anew has no numbers yet, and while everything stands still no other frame comes.
    this.#drawnCount = -1;
  }

  #followState(): void {
    this.#followCharacter();
    const { editor, session } = this.#source;
    const state = session.state;
    this.#worn.follow();
    const getVisible = (index: number): Visibility =>
      index === this.#worn.sectionIndex ? 'hidden' : getVisibility(state, index);
    for (const [index, section] of this.#sections) section.setView(getVisible(index), state.showTriangles);
    for (const garment of this.#garments) {
      const renders = this.#renders.filter(({ garmentId }) => garmentId === garment.garmentId);
      const isSelected = garment.garmentId === state.garmentId;
      // Reach is painted on the sim mesh: what is drawn in its place would hide it.
      const showsSurface = renders.length === 0 || (state.stage === 'reach' && isSelected);
      for (const render of renders) {
        const visibility = getVisible(render.sectionIndex);
        render.setView(showsSurface ? 'hidden' : visibility, state.showTriangles);
      }
      garment.setView({
        visibility: getVisible(renders[0]?.sectionIndex ?? garment.sectionIndex),
        isDrawn: showsSurface,
        showSimMesh: state.stage === 'simMesh' && isSelected,
        showTriangles: state.showTriangles,
        showReach: state.stage === 'reach',
        showWhiskers: state.showWhiskers && state.channel === 'maxDistance',
        isSelected,
        ...this.#reachView.colour(garment),
      });
    }
    this.#reachView.follow(state.stage === 'reach' ? this.#getSelectedGarment() : null);
    const garment = state.garmentId ? editor.document.records.get(state.garmentId) : undefined;
    const showBodies = state.stage === 'bodies' || state.showBodies;
    const setId =
      garment?.type === 'garment' ? garment.bodySetId : listGarments(editor.document)[0]?.bodySetId;
    this.#bodies.setJoints(editor.character.skeleton.names);
    this.#bodies.setBodies(
      showBodies && setId ? listBodies(editor.document, setId) : [],
      state.stage === 'bodies' ? state.bodyId : null,
    );
    const hasMarks = state.stage === 'garment' || state.stage === 'simMesh' || state.stage === 'reach';
    this.#showMarks(hasMarks ? state.marks : null);
    if (this.#tool !== this.#activeTool) {
      this.#activeTool?.leave();
      this.#activeTool = this.#tool;
    }
    this.#needsDraw = true;
  }

  /** The brush takes the value under the cursor, see `PaintTool.pickValue`. */
  pickValue(): number | null {
    return this.#tool === this.#paintTool ? this.#paintTool.pickValue() : null;
  }

  #showMarks(marks: Marks | null): void {
    if (this.#marks?.from === marks) return;
    this.#dropMarks();
    if (!marks) return;
    const drawn =
      this.#garments.find((garment) => garment.sectionIndex === marks.sectionIndex)?.mesh ??
      this.#renders.find((render) => render.sectionIndex === marks.sectionIndex)?.mesh;
    const points = drawn ? new MarkPoints(drawn.geometry, marks.vertices) : null;
    points?.addTo(drawn!);
    if (points) this.frameVertex(marks.sectionIndex, marks.vertices[0]!);
    this.#marks = { from: marks, drawn: points };
  }

  #dropMarks(): void {
    this.#marks?.drawn?.dispose();
    this.#marks = null;
  }

  /** Turns the eye to the first of some vertices of a garment's section, as it is drawn now. */
  frameVertex(sectionIndex: number, vertex: number): void {
    const drawn = [...this.#garments, ...this.#renders].find((part) => part.sectionIndex === sectionIndex);
    const position = drawn?.mesh.geometry.attributes.position;
    if (position) this.framePlace([position.getX(vertex), position.getY(vertex), position.getZ(vertex)]);
  }

  #getSelectedGarment(): GarmentMesh | null {
    const { garmentId } = this.#source.session.state;
    return this.#garments.find((garment) => garment.garmentId === garmentId) ?? null;
  }
}

function getVisibility(state: Session, sectionIndex: number): Visibility {
  if (state.isolated !== null) return state.isolated === sectionIndex ? 'shown' : 'hidden';
  return state.visibility.get(sectionIndex) ?? 'shown';
}

function createLights(): (HemisphereLight | DirectionalLight)[] {
  const sky = new HemisphereLight('#FFFDF6', '#8C8374', 1.9);
  const key = new DirectionalLight('#FFF4DF', 1.7);
  key.position.set(-1.4, 2.6, 2.2);
  const rim = new DirectionalLight('#DCE6EC', 0.7);
  rim.position.set(2.2, 1.2, -1.6);
  return [sky, key, rim];
}
