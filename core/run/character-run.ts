import type { BodyShape } from '../bodies/index.ts';
import type { FabricSettings } from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import { type Character, computeClipTravel, computeSkinMatrices, Pose } from '../rig/index.ts';
import { GarmentRun } from './garment-run.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** Simulated frames a second, everywhere. */
export const FRAME_RATE = 60;
const FRAME_SECONDS = 1 / FRAME_RATE;

/** A loop whose end lies farther (metres, any target) than this from its start is a jump for the cloth. */
const JUMP_DISTANCE = 0.05;

/** Milliseconds, by what spent them. */
export interface RunTimes {
  constraints: number;
  bodies: number;
  /** Pose, skin matrices, targets, and render vertices. */
  skinning: number;
}

/**
 * A character in motion: pose, bodies and cloth, advanced one frame at a time. The live preview, trials, the
 * shipped file's check and the command line all go through here, so that they give the same numbers.
 */
export class CharacterRun {
  readonly character: Character;
  readonly pose: Pose;
  /** Per skin, [joints, 16]. */
  readonly skinMatrices: Float32Array[];
  readonly garments: GarmentRun[];
  /** m/s, world space. */
  wind: [number, number, number] = [0, 0, 0];
  /** Null for the bind pose. */
  #clip: number | null = null;
  #time = 0;
  #travels: ([number, number] | undefined)[];
  readonly #clock: () => number;
  #skinning = 0;

  /** @param clock - Milliseconds, to measure costs; without it they read 0. */
  constructor(character: Character, setups: readonly GarmentSetup[], clock: () => number = () => 0) {
    this.character = character;
    this.#clock = clock;
    this.pose = new Pose(character);
    this.skinMatrices = character.skins.map((skin) => new Float32Array(16 * skin.joints.length));
    this.garments = setups.map(
      (setup) => new GarmentRun(character.sections[setup.compiled.sectionIndex]!, setup, clock),
    );
    this.#travels = new Array(character.clips.length);
    this.reset();
  }

  /** Index of the clip that plays, null for the bind pose. */
  get clip(): number | null {
    return this.#clip;
  }

  /** Seconds into the clip. */
  get time(): number {
    return this.#time;
  }

  get duration(): number {
    return this.#clip === null ? 0 : this.character.clips[this.#clip]!.duration;
  }

  /** [x, z] metres that the clip travels in one round; taken out of the motion, for the ground to show. */
  get travel(): [number, number] {
    if (this.#clip === null) return [0, 0];
    this.#travels[this.#clip] ??= computeClipTravel(this.character, this.character.clips[this.#clip]!);
    return this.#travels[this.#clip]!;
  }

  /** Another clip (null: bind pose) from a time on; the cloth is carried along. */
  play(clip: number | null, time = 0): void {
    if (clip !== null && !this.character.clips[clip]) throw new RangeError(`There is no clip ${clip}.`);
    this.#clip = clip;
    this.seek(time);
  }

  /** Another time of the same clip; the cloth keeps its offsets from the skin. */
  seek(time: number): void {
    this.#time = Math.max(0, Math.min(time, this.duration));
    this.#follow();
    for (const garment of this.garments) garment.solver.jump(garment.targets, garment.bodies);
  }

  /** Puts all cloth on its skinned place, at rest. */
  reset(): void {
    this.#follow();
    for (const garment of this.garments) garment.solver.reset(garment.targets, garment.bodies);
  }

  /**
   * Advances by one frame of 1/60 s.
   * @param speed - Clip seconds per simulated second: 0 holds the pose while the cloth goes on.
   */
  step(speed = 1): void {
    if (this.#clip !== null && speed !== 0) this.#advanceClip(FRAME_SECONDS * speed);
    this.#follow();
    for (const garment of this.garments) {
      garment.solver.step(FRAME_SECONDS, garment.targets, { wind: this.wind, bodies: garment.bodies });
    }
  }

  /** Render vertices of one garment, see `GarmentRun.writeVertices`. */
  writeVertices(garment: number, outPositions: Float32Array, outNormals: Float32Array): void {
    const start = this.#clock();
    this.garments[garment]!.writeVertices(outPositions, outNormals);
    this.#skinning += this.#clock() - start;
  }

  /** Costs since the last call, of the whole and of each garment. */
  takeTimes(): { total: RunTimes; garments: number[] } {
    const total: RunTimes = { constraints: 0, bodies: 0, skinning: this.#skinning };
    this.#skinning = 0;
    const garments = this.garments.map((garment) => {
      const times = garment.solver.takeTimes();
      total.constraints += times.constraints;
      total.bodies += times.bodies;
      return times.constraints + times.bodies;
    });
    return { total, garments };
  }

  setFabric(id: RecordId, fabric: FabricSettings): void {
    this.#find(id)?.solver.setFabric(fabric);
  }

  setMaxDistances(id: RecordId, values: Float32Array): void {
    this.#find(id)?.solver.setMaxDistances(values);
  }

  setBodies(id: RecordId, bodies: BodyShape[]): void {
    this.#find(id)?.setBodies(bodies, this.pose);
  }

  #find(id: RecordId): GarmentRun | undefined {
    return this.garments.find((garment) => garment.setup.id === id);
  }

  #advanceClip(seconds: number): void {
    const { duration } = this;
    if (duration === 0) return;
    const time = this.#time + seconds;
    if (time >= 0 && time < duration) {
      this.#time = time;
      return;
    }
    const wrapped = time - duration * Math.floor(time / duration);
    if (!this.#isClosed()) {
      this.seek(wrapped);
      return;
    }
    this.#time = wrapped;
  }

  /** Whether the end of the clip meets its start, as the garments' targets see it. */
  #isClosed(): boolean {
    const now = this.#time;
    this.#time = this.duration;
    this.#follow();
    const ends = this.garments.map((garment) => garment.targets.slice());
    this.#time = 0;
    this.#follow();
    const farthest = Math.max(
      0,
      ...this.garments.map((garment, g) => farthestApart(garment.targets, ends[g]!)),
    );
    this.#time = now;
    return farthest <= JUMP_DISTANCE;
  }

  #follow(): void {
    const start = this.#clock();
    if (this.#clip === null) {
      this.pose.setBind();
    } else {
      this.pose.setClip(this.character.clips[this.#clip]!, this.#time);
      const [x, z] = this.travel;
      const share = this.duration > 0 ? this.#time / this.duration : 0;
      if (x !== 0 || z !== 0) this.pose.translate(-x * share, 0, -z * share);
    }
    this.character.skins.forEach((skin, index) => {
      computeSkinMatrices(skin, this.pose.worldMatrices, this.skinMatrices[index]!);
    });
    for (const garment of this.garments) {
      garment.follow(this.pose, this.skinMatrices[garment.setup.compiled.skinned.skin]!);
    }
    this.#skinning += this.#clock() - start;
  }
}

function farthestApart(p: Float32Array, q: Float32Array): number {
  let most = 0;
  for (let i = 0; i < p.length; i += 4) {
    const d = (p[i]! - q[i]!) ** 2 + (p[i + 1]! - q[i + 1]!) ** 2 + (p[i + 2]! - q[i + 2]!) ** 2;
    if (d > most) most = d;
  }
  return Math.sqrt(most);
}
