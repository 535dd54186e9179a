import type { CollisionShape } from '../bodies/index.ts';
import { type FabricSettings, type FrameHelpers, NO_WIND, type WindSettings } from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import { bindSection, type Character, computeSkinMatrices, type JointTurn, type Pose } from '../rig/index.ts';
import { createBodyMesh, type MetMesh } from './body-mesh.ts';
import { ClipPlayer } from './clip-player.ts';
import { isSameGarment, isSameLevel, isShownAlike, playsAlike } from './compare-setups.ts';
import type { GarmentReach } from './garment-reach.ts';
import { type FrameMotion, GarmentRun } from './garment-run.ts';
import type { GarmentSetup } from './garment-setup.ts';
import { isSameButWeights } from './is-same-but-weights.ts';
import { LevelSwitch } from './level-switch.ts';
import { mapPoints } from './map-points.ts';
import type { RunSetup } from './run-setup.ts';
import { addTimes, NO_RUN_TIMES, type RunTimes, sumTimes } from './run-times.ts';
import { addGarmentWork, type GarmentWork, type RunWork } from './run-work.ts';
import { SectionDrawing } from './section-drawing.ts';
import { type MovingGarment, stepGarments } from './step-garments.ts';

/** Simulated frames a second, everywhere. */
export const FRAME_RATE = 60;
const FRAME_SECONDS = 1 / FRAME_RATE;

/** A loop whose end lies farther (metres, any target) than this from its start is a jump for the cloth. */
const JUMP_DISTANCE = 0.05;

/** Nearer than this, m, lengths at rest are the same. */
const SAME_REST = 1e-6;

export interface RunOptions {
  /** Milliseconds, to measure costs; without it they read 0. */
  clock?: (() => number) | undefined;
  /** The readable solver instead of the fast one. */
  isPlain?: boolean;
  /** Threads that compute garments beside this one, with the fast solver. */
  helpers?: FrameHelpers | undefined;
}

/**
 * A character in motion: pose, bodies and cloth, advanced one frame at a time. The live preview, trials, the
 * shipped file's check and the command line all go through here, so that they give the same numbers.
 */
export class CharacterRun {
  #character: Character;
  /** Per skin, [joints, 16]. */
  readonly skinMatrices: Float32Array[];
  /** From the skin outward: each meets those before it. */
  readonly garments: GarmentRun[];
  wind: WindSettings = NO_WIND;
  readonly #player: ClipPlayer;
  readonly #options: RunOptions;
  readonly #clock: (() => number) | undefined;
  /** Simulated seconds since the start: the wind goes by them, whatever the clip does. */
  #simulated = 0;
  /** Since work was taken last. */
  #frames = 0;
  #seconds = 0;
  #skinning = 0;
  /** Null: no garment is going over to another level. */
  #switch: LevelSwitch | null = null;
  /** What garments did that are left behind, since work was taken last. */
  readonly #leftWork: GarmentWork[] = [];
  readonly #drawing = new SectionDrawing();

  constructor(character: Character, setups: readonly GarmentSetup[], options: RunOptions = {}) {
    this.#character = character;
    this.#options = options.isPlain ? { ...options, helpers: undefined } : options;
    this.#clock = options.clock;
    this.#player = new ClipPlayer(character);
    this.skinMatrices = character.skins.map((skin) => new Float32Array(16 * skin.joints.length));
    this.garments = [];
    for (const setup of setups) this.garments.push(this.#createGarment(setup));
    this.reset();
  }

  get character(): Character {
    return this.#character;
  }

  /**
   * Takes a character that differs in skin weights alone, in the shape that the run has; the cloth goes on as it is.
   * @returns False, and takes nothing, when it differs in more: a new run is needed.
   */
  takeWeights(character: Character): boolean {
    const before = this.#character;
    const isSame =
      playsAlike(before, character) &&
      character.sections.every((section, i) => isSameButWeights(before.sections[i]!, section));
    if (!isSame) return false;
    const changed = this.garments.filter(({ setup: { compiled } }) => {
      const { sectionIndex } = compiled;
      return before.sections[sectionIndex] !== character.sections[sectionIndex];
    });
    // Where the joints do not agree on the bind pose, weights move it, and with it the lengths at rest.
    const staysAtRest = changed.every(({ setup: { compiled } }) => {
      const section = character.sections[compiled.sectionIndex]!;
      const rest = section.restPositions ?? bindSection(character, compiled.sectionIndex);
      return compiled.vertexOfPoint.every((v, p) =>
        [0, 1, 2].every((k) => Math.abs(rest[3 * v + k]! - compiled.restPositions[4 * p + k]!) <= SAME_REST),
      );
    });
    if (!staysAtRest) return false;
    for (const garment of changed)
      garment.setSection(character.sections[garment.setup.compiled.sectionIndex]!);
    for (const garment of this.garments) reweighMeshes(garment, before, character);
    this.#character = character;
    return true;
  }

  /**
   * Takes another set-up while running: garments whose compiled mesh is the very same (as a cache gives it), over the same others,
   * go on as they are; only the rest begins anew, on its skinned places. What maps, fabrics and bodies say of those that go on is not looked at.
   *
   * @returns False, and takes nothing, when joints, clips or the values of morph targets are others: a new run is needed.
   */
  takeSetup({ character, garments }: Pick<RunSetup, 'character' | 'garments'>): boolean {
    if (!playsAlike(this.#character, character)) return false;
    this.#character = character;
    this.#endSwitch();
    const old = this.garments.splice(0);
    const fresh: GarmentRun[] = [];
    for (const setup of garments) {
      const known = old.find((garment) => garment.setup.id === setup.id);
      if (known && isSameGarment(known, setup, this.garments)) {
        known.setBodyMeshes(setup.bodyMeshes ?? []);
        this.garments.push(known);
      } else {
        const made = this.#createGarment(setup);
        this.garments.push(made);
        fresh.push(made);
      }
    }
    this.#follow();
    for (const garment of fresh) garment.reset();
    return true;
  }

  /**
   * Goes over to another set-up of the same character in motion, as from one level of detail to another: garments that are other begin as
   * those of before are now, and while the time goes both are simulated and what is drawn goes over from one to the other.
   *
   * @param garments - The same ones, in the same order. @param seconds - 0: at once.
   * @throws {RangeError} When the character or its garments are others.
   */
  switchTo({ character, garments }: Pick<RunSetup, 'character' | 'garments'>, seconds: number): void {
    const isSame = garments.length === this.garments.length && playsAlike(this.#character, character);
    if (!isSame || garments.some(({ id }, g) => id !== this.garments[g]!.setup.id))
      throw new RangeError('Only levels of the same garments of one character go over into each other.');
    this.#endSwitch();
    this.#character = character;
    const old = this.garments.splice(0);
    const kept = new Set<GarmentRun>();
    const drawn: GarmentRun[] = [];
    const made: [GarmentRun, GarmentRun][] = [];
    garments.forEach((setup, g) => {
      const before = old[g]!;
      if (isSameGarment(before, setup, this.garments) && isSameLevel(before.setup, setup)) {
        kept.add(before);
        this.garments.push(before);
        return;
      }
      const garment = this.#createGarment(setup);
      this.garments.push(garment);
      made.push([before, garment]);
      // On the very same mesh, as often simulated, it goes on from the very same state, and nothing is to be hidden.
      if (!isShownAlike(before.setup, setup)) drawn.push(before);
    });
    this.#poseNow();
    const isSmooth = drawn.length > 0 && seconds > 0;
    for (const before of old)
      if (!kept.has(before) && !(isSmooth && drawn.includes(before))) this.#leftWork.push(before.takeWork());
    for (const [before, garment] of made) {
      garment.followRoot(this.pose, true);
      garment.takeOver(before, mapPoints(character, before.setup.compiled, garment.setup.compiled));
    }
    if (isSmooth) this.#switch = new LevelSwitch(drawn, { old, kept }, seconds);
  }

  /** Whether garments are going over from one level to another. */
  get isSwitching(): boolean {
    return this.#switch !== null;
  }

  #createGarment(setup: GarmentSetup): GarmentRun {
    const { compiled } = setup;
    const { joints } = this.#character.skins[compiled.skinned.skin]!;
    const section = this.#character.sections[compiled.sectionIndex]!;
    const { clock, isPlain = false, helpers } = this.#options;
    const options = { clock, isPlain, isShared: helpers !== undefined, beneath: this.garments.slice() };
    return new GarmentRun(section, setup, joints, options);
  }

  get pose(): Pose {
    return this.#player.pose;
  }

  /** Index of the clip that plays, null for the bind pose. */
  get clip(): number | null {
    return this.#player.clip;
  }

  /** Seconds into the clip. */
  get time(): number {
    return this.#player.time;
  }

  get duration(): number {
    return this.#player.duration;
  }

  /** [x, z] metres that the clip travels in one round; taken out of the motion, for the ground to show. */
  get travel(): [number, number] {
    return this.#player.travel;
  }

  /** Another clip (null: bind pose) from a time on; the cloth is carried along. */
  play(clip: number | null, time = 0): void {
    this.#player.play(clip, time);
    this.#jump();
  }

  /** Goes over to the start of another clip in so many seconds, without a jump. */
  blendTo(clip: number | null, seconds: number): void {
    const isAtOnce = clip === null || this.clip === null || !(seconds > 0);
    this.#player.blendTo(clip, seconds);
    if (isAtOnce) this.#jump();
    else this.#poseNow();
  }

  /** Another time of the same clip; the cloth keeps its offsets from the skin. */
  seek(time: number): void {
    this.#player.setTime(time);
    this.#jump();
  }

  /** Turns joints beside the clip, to try a pose; the cloth follows as it would a clip. */
  setTurns(turns: readonly JointTurn[]): void {
    this.#player.turns = turns;
  }

  /** Puts all cloth on its skinned place, at rest, and starts the wind anew. */
  reset(): void {
    this.#simulated = 0;
    this.#endSwitch();
    this.#follow();
    for (const garment of this.garments) garment.reset();
  }

  /**
   * Advances by one frame.
   * @param speed - Clip seconds per simulated second: 0 holds the pose while the cloth goes on.
   * @param seconds - How long the frame is.
   */
  step(speed = 1, seconds = FRAME_SECONDS): void {
    const moving = this.beginFrame(speed, seconds);
    stepGarments(moving, this.#options.helpers);
    this.endFrame(seconds);
  }

  /** The first part of a step: everything but the cloth goes to where it is at the end of the frame. @returns What `stepGarments` is to do then. */
  beginFrame(speed: number, seconds: number): MovingGarment[] {
    for (const garment of this.#all) garment.begin(seconds);
    if (speed !== 0 && this.#player.advance(seconds * speed) && !this.isClosed()) this.#jump();
    else this.#follow(false);
    this.#frames++;
    this.#seconds += seconds;
    const time = this.#simulated;
    this.#simulated += seconds;
    const { duration, travel, wind } = this;
    const rate = duration > 0 ? speed / duration : 0;
    const motion: FrameMotion = { seconds, wind, time, travel: [rate * travel[0], rate * travel[1]] };
    return this.#all.map((garment) => ({ garment, motion }));
  }

  /** The last part of a step, after its garments. */
  endFrame(seconds: number): void {
    this.#switch?.pass(seconds);
    if (this.#switch?.isOver) this.#endSwitch();
  }

  /** Work that was done for levels that are left behind counts with what is taken next. */
  #endSwitch(): void {
    this.#leftWork.push(...(this.#switch?.garments ?? []).map((garment) => garment.takeWork()));
    this.#switch = null;
  }

  /** From the skin outward, then those on their way out, which may lie over others that go on. */
  get #all(): readonly GarmentRun[] {
    return this.#switch ? [...this.garments, ...this.#switch.garments] : this.garments;
  }

  /** Render vertices of one garment, see `GarmentRun.writeVertices`. */
  writeVertices(garment: number, outPositions: Float32Array, outNormals: Float32Array): void {
    const run = this.garments[garment]!;
    this.#draw(run, run.setup.compiled.sectionIndex, outPositions, outNormals);
  }

  /** Vertices of a section that follows a garment's sim mesh, see `GarmentRun.writeRender`. */
  writeRender(garment: number, render: number, outPositions: Float32Array, outNormals: Float32Array): void {
    const run = this.garments[garment]!;
    const { sectionIndex } = run.setup.renders![render]!;
    this.#draw(run, sectionIndex, outPositions, outNormals);
  }

  #draw(garment: GarmentRun, sectionIndex: number, positions: Float32Array, normals: Float32Array): void {
    const before = this.#switch?.find(garment.setup.id) ?? null;
    const character = this.#character;
    const posed = { character, pose: this.pose, skinMatrices: this.skinMatrices };
    this.#timeSkinning(() => {
      this.#drawing.write(posed, garment, sectionIndex, positions, normals);
      if (before && this.#switch)
        this.#drawing.mixIn(posed, before, sectionIndex, positions, normals, this.#switch.share);
    });
  }

  /** Costs since the last call, of the whole and of each garment. */
  takeTimes(): { total: RunTimes; garments: number[] } {
    const total: RunTimes = { ...NO_RUN_TIMES, skinning: this.#skinning };
    this.#skinning = 0;
    for (const { solver } of this.#switch?.garments ?? []) addTimes(total, solver.takeTimes());
    const garments = this.garments.map((garment) => {
      const times = garment.solver.takeTimes();
      addTimes(total, times);
      return sumTimes(times);
    });
    return { total, garments };
  }

  /** What was done since the last call, counted: the same for the same motion on every machine, however busy. */
  takeWork(): RunWork {
    const [frames, seconds] = [this.#frames, this.#seconds];
    this.#frames = this.#seconds = 0;
    const { skeleton, skins } = this.#character;
    const joints = skins.reduce((sum, skin) => sum + skin.joints.length, skeleton.names.length);
    const leaving = (this.#switch?.garments ?? []).map((garment) => garment.takeWork());
    const left = [...this.#leftWork.splice(0), ...leaving];
    return {
      frames,
      seconds,
      joints: frames * joints,
      garments: this.garments.map((garment) => {
        const beside = left.filter(({ garmentId }) => garmentId === garment.setup.id);
        return beside.reduce(addGarmentWork, garment.takeWork());
      }),
    };
  }

  setFabric(id: RecordId, fabric: FabricSettings): void {
    this.find(id)?.solver.setFabric(fabric);
  }

  setReach(id: RecordId, reach: GarmentReach, kinds: ReadonlySet<ChannelKind>): void {
    this.find(id)?.setReach(reach, kinds);
  }

  setBodies(id: RecordId, bodies: readonly CollisionShape[]): void {
    this.find(id)?.setBodies(bodies, this.pose);
  }

  /** Other margins of the meshes that a garment meets, m; those that are not named keep theirs. */
  setBodyMargins(id: RecordId, margins: ReadonlyMap<RecordId, number>): void {
    const garment = this.find(id);
    garment?.setBodyMeshes(
      (garment.setup.bodyMeshes ?? []).map((met) => ({
        ...met,
        margin: (met.id && margins.get(met.id)) ?? met.margin,
      })),
    );
  }

  setBlend(id: RecordId, blend: number): void {
    const garment = this.find(id);
    if (garment) garment.setup.blend = blend;
  }

  find(id: RecordId): GarmentRun | undefined {
    return this.garments.find((garment) => garment.setup.id === id);
  }

  /** Whether the end of the clip meets its start, as the garments' targets see it. Leaves targets posed there: for between frames. */
  isClosed(): boolean {
    this.#player.applyAt(this.duration);
    this.#poseGarments();
    const ends = this.garments.map((garment) => garment.targets.slice());
    this.#player.applyAt(0);
    this.#poseGarments();
    return this.garments.every((garment, g) => farthestApart(garment.targets, ends[g]!) <= JUMP_DISTANCE);
  }

  #jump(): void {
    this.#follow();
    for (const garment of this.#all) garment.jump();
  }

  #follow(isJump = true): void {
    this.#timeSkinning(() => {
      this.#poseNow();
      for (const garment of this.#all) garment.followRoot(this.pose, isJump);
    });
  }

  #poseNow(): void {
    this.#player.apply();
    this.#poseGarments();
  }

  #poseGarments(): void {
    this.#character.skins.forEach((skin, index) => {
      computeSkinMatrices(skin, this.pose.worldMatrices, this.skinMatrices[index]!);
    });
    for (const garment of this.#all) garment.follow(this.pose, this.skinMatrices);
  }

  #timeSkinning(work: () => void): void {
    const start = this.#clock?.() ?? 0;
    work();
    this.#skinning += (this.#clock?.() ?? 0) - start;
  }
}

/** Gives the meshes that a garment meets the skin weights of another character of the same shape. */
function reweighMeshes(garment: GarmentRun, before: Character, after: Character): void {
  const meshes = garment.setup.bodyMeshes ?? [];
  const isOther = ({ sectionIndex }: MetMesh): boolean =>
    sectionIndex !== null && before.sections[sectionIndex] !== after.sections[sectionIndex];
  if (!meshes.some(isOther)) return;
  garment.setBodyMeshes(
    meshes.map((met) =>
      isOther(met) ? { ...met, mesh: createBodyMesh(after.sections[met.sectionIndex!]!) } : met,
    ),
  );
}

function farthestApart(p: Float32Array, q: Float32Array): number {
  let most = 0;
  for (let i = 0; i < p.length; i += 4) {
    const [x, y, z] = [p[i]! - q[i]!, p[i + 1]! - q[i + 1]!, p[i + 2]! - q[i + 2]!];
    most = Math.max(most, x * x + y * y + z * z);
  }
  return Math.sqrt(most);
}
