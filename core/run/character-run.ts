import type { CollisionShape } from '../bodies/index.ts';
import {
  type FabricSettings,
  NO_TIMES,
  NO_WIND,
  type SolverTimes,
  type WindSettings,
} from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import { bindSection, type Character, computeSkinMatrices, type JointTurn, type Pose } from '../rig/index.ts';
import { type BodyMesh, createBodyMesh, type MetMesh } from './body-mesh.ts';
import { ClipPlayer } from './clip-player.ts';
import type { GarmentReach } from './garment-reach.ts';
import { GarmentRun } from './garment-run.ts';
import type { GarmentSetup } from './garment-setup.ts';
import { isSameButWeights } from './is-same-but-weights.ts';
import type { RunSetup } from './run-setup.ts';
import { combineWork, type RunWork } from './run-work.ts';

/** Simulated frames a second, everywhere. */
export const FRAME_RATE = 60;
const FRAME_SECONDS = 1 / FRAME_RATE;

/** A loop whose end lies farther (metres, any target) than this from its start is a jump for the cloth. */
const JUMP_DISTANCE = 0.05;

/** Milliseconds, by what spent them. */
export interface RunTimes extends SolverTimes {
  /** Pose, skin matrices, targets, and render vertices. */
  skinning: number;
}

export const NO_RUN_TIMES: Readonly<RunTimes> = { ...NO_TIMES, skinning: 0 };

/** Milliseconds of several garments, part by part. */
export function sumTimes(times: object): number {
  return Object.values(times as Record<string, number>).reduce((sum, value) => sum + value, 0);
}

/** The same times some share. */
export function scaleTimes(times: RunTimes, share: number): RunTimes {
  return Object.fromEntries(
    Object.entries(times).map(([part, time]) => [part, time * share]),
  ) as unknown as RunTimes;
}

/** Nearer than this, m, lengths at rest are the same. */
const SAME_REST = 1e-6;

export interface RunOptions {
  /** Milliseconds, to measure costs; without it they read 0. */
  clock?: (() => number) | undefined;
  /** The readable solver instead of the fast one. */
  isPlain?: boolean;
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

  constructor(character: Character, setups: readonly GarmentSetup[], options: RunOptions = {}) {
    this.#character = character;
    this.#options = options;
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
      before.sections.length === character.sections.length &&
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

  #createGarment(setup: GarmentSetup): GarmentRun {
    const { compiled } = setup;
    const { joints } = this.#character.skins[compiled.skinned.skin]!;
    const section = this.#character.sections[compiled.sectionIndex]!;
    return new GarmentRun(section, setup, joints, { ...this.#options, beneath: this.garments.slice() });
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
    this.#follow();
    for (const garment of this.garments) garment.reset();
  }

  /**
   * Advances by one frame.
   * @param speed - Clip seconds per simulated second: 0 holds the pose while the cloth goes on.
   * @param seconds - How long the frame is.
   */
  step(speed = 1, seconds = FRAME_SECONDS): void {
    if (speed !== 0 && this.#player.advance(seconds * speed) && !this.isClosed()) this.#jump();
    else this.#follow();
    this.#frames++;
    this.#seconds += seconds;
    const time = this.#simulated;
    this.#simulated += seconds;
    const { duration, travel } = this;
    const rate = duration > 0 ? speed / duration : 0;
    for (const garment of this.garments) {
      garment.step(seconds, this.wind, time, [rate * travel[0], rate * travel[1]]);
    }
  }

  /** Render vertices of one garment, see `GarmentRun.writeVertices`. */
  writeVertices(garment: number, outPositions: Float32Array, outNormals: Float32Array): void {
    this.#timeSkinning(() => this.garments[garment]!.writeVertices(outPositions, outNormals));
  }

  /** Vertices of a section that follows a garment's sim mesh, see `GarmentRun.writeRender`. */
  writeRender(garment: number, render: number, outPositions: Float32Array, outNormals: Float32Array): void {
    this.#timeSkinning(() => this.garments[garment]!.writeRender(render, outPositions, outNormals));
  }

  /** Costs since the last call, of the whole and of each garment. */
  takeTimes(): { total: RunTimes; garments: number[] } {
    const total: RunTimes = { ...NO_RUN_TIMES, skinning: this.#skinning };
    this.#skinning = 0;
    const garments = this.garments.map((garment) => {
      const times = garment.solver.takeTimes();
      for (const part of Object.keys(times) as (keyof SolverTimes)[]) total[part] += times[part];
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
    return {
      frames,
      seconds,
      joints: frames * joints,
      garments: this.garments.map(({ setup, met, solver }) =>
        combineWork(setup, met, solver.takeWork(), frames),
      ),
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
    for (const garment of this.garments) garment.jump();
  }

  #follow(): void {
    this.#timeSkinning(() => {
      this.#poseNow();
      for (const garment of this.garments) garment.followRoot(this.pose);
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
    for (const garment of this.garments) garment.follow(this.pose, this.skinMatrices);
  }

  #timeSkinning(work: () => void): void {
    const start = this.#clock?.() ?? 0;
    work();
    this.#skinning += (this.#clock?.() ?? 0) - start;
  }
}

/** Whether poses of one character are poses of the other, its shape included. */
function playsAlike(one: Character, other: Character): boolean {
  return (
    one.skeleton === other.skeleton &&
    one.skins === other.skins &&
    one.clips === other.clips &&
    one.sections.length === other.sections.length &&
    one.sections.every(({ morphWeights }, i) => {
      const weights = other.sections[i]!.morphWeights;
      return morphWeights.length === weights.length && morphWeights.every((value, m) => value === weights[m]);
    })
  );
}

/** Whether a garment that runs is on the mesh of a set-up, over the same others, and draws the same. */
function isSameGarment(garment: GarmentRun, setup: GarmentSetup, beneath: readonly GarmentRun[]): boolean {
  const [renders, others] = [garment.setup.renders ?? [], setup.renders ?? []];
  return (
    garment.setup.compiled === setup.compiled &&
    garment.beneath.length === beneath.length &&
    garment.beneath.every((one, i) => one === beneath[i]) &&
    renders.length === others.length &&
    renders.every((render, i) => render === others[i]) &&
    hasSameMeshes(garment, setup.bodyMeshes ?? [])
  );
}

/** Whether a garment that runs meets these meshes, wherever their points are and whatever their margins. */
function hasSameMeshes({ setup }: GarmentRun, meshes: readonly MetMesh[]): boolean {
  const own = setup.bodyMeshes ?? [];
  return own.length === meshes.length && own.every(({ mesh }, m) => hasSameTriangles(mesh, meshes[m]!.mesh));
}

function hasSameTriangles(p: BodyMesh, q: BodyMesh): boolean {
  if (p === q) return true;
  if (p.pointCount !== q.pointCount || p.triangles.length !== q.triangles.length) return false;
  return p.triangles.every((corner, i) => corner === q.triangles[i]);
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
