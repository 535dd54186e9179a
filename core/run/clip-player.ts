import { type Character, computeClipTravel, type JointTurn, Pose, turnJoints } from '../rig/index.ts';

/** Joints that end farther, m, or more turned, rad, from where they start jump from one to the other. */
const MEETS = 0.05;

/** Which clip a character is in, where in it, and how it goes over from one to the next. */
export class ClipPlayer {
  readonly pose: Pose;
  readonly #character: Character;
  /** Turns of joints beside the clip. */
  turns: readonly JointTurn[] = [];
  /** Null for the bind pose. */
  #clip: number | null = null;
  #time = 0;
  #earlier: {
    clip: number;
    time: number;
    isClosed: boolean;
    pose: Pose;
    left: number;
    whole: number;
  } | null = null;
  readonly #travels: ([number, number] | undefined)[];

  constructor(character: Character) {
    this.#character = character;
    this.pose = new Pose(character);
    this.#travels = new Array(character.clips.length);
  }

  get clip(): number | null {
    return this.#clip;
  }

  /** Seconds into the clip. */
  get time(): number {
    return this.#time;
  }

  get duration(): number {
    return this.#clip === null ? 0 : this.#character.clips[this.#clip]!.duration;
  }

  /** [x, z] metres that the clip travels in one round; taken out of the motion, for the ground to show. */
  get travel(): [number, number] {
    return this.#clip === null ? [0, 0] : this.#getTravel(this.#clip);
  }

  /** @throws {RangeError} When there is no such clip. */
  play(clip: number | null, time: number): void {
    this.#check(clip);
    this.#clip = clip;
    this.#earlier = null;
    this.setTime(time);
  }

  setTime(time: number): void {
    this.#time = Math.max(0, Math.min(time, this.duration));
  }

  /**
   * Goes over to another clip in so many seconds; both play meanwhile, the one of now no farther than to its end when that does not
   * meet its start. To or from the bind pose: at once. `pose` is to be brought to the moment anew.
   */
  blendTo(clip: number | null, seconds: number): void {
    this.#check(clip);
    const earlier = this.#clip;
    const time = this.#time;
    this.#earlier = null;
    const isClosed = this.#meetsItself();
    this.play(clip, 0);
    if (clip === null || earlier === null || !(seconds > 0)) return;
    const pose = new Pose(this.#character);
    this.#earlier = { clip: earlier, time, isClosed, pose, left: seconds, whole: seconds };
  }

  /** @returns True when the clip came round to its other end. */
  advance(seconds: number): boolean {
    if (this.#clip === null) return false;
    if (this.#earlier) {
      const { duration } = this.#character.clips[this.#earlier.clip]!;
      const time = this.#earlier.time + seconds;
      this.#earlier.time = this.#earlier.isClosed
        ? wrap(time, duration)
        : Math.max(0, Math.min(time, duration));
      this.#earlier.left -= Math.abs(seconds);
      if (this.#earlier.left <= 0) this.#earlier = null;
    }
    const { duration } = this;
    if (duration === 0) return false;
    const time = this.#time + seconds;
    this.#time = wrap(time, duration);
    return this.#time !== time;
  }

  /** Brings `pose` to the present moment. */
  apply(): void {
    this.applyAt(this.#time);
  }

  /** Brings `pose` to another moment of the clip. */
  applyAt(time: number): void {
    this.#setPose(time);
    turnJoints(this.pose, this.turns);
  }

  #setPose(time: number): void {
    if (this.#clip === null) {
      this.pose.setBind();
      return;
    }
    this.pose.setClip(this.#character.clips[this.#clip]!, time);
    let [x, z] = this.#measureOffset(this.#clip, time);
    if (this.#earlier) {
      const { clip, pose, left, whole } = this.#earlier;
      pose.setClip(this.#character.clips[clip]!, this.#earlier.time);
      const share = 1 - left / whole;
      this.pose.blendFrom(pose, share);
      const [ex, ez] = this.#measureOffset(clip, this.#earlier.time);
      x = ex + share * (x - ex);
      z = ez + share * (z - ez);
    }
    if (x !== 0 || z !== 0) this.pose.translate(-x, 0, -z);
  }

  /** Whether all joints are at the end of the clip where they are at its start. */
  #meetsItself(): boolean {
    this.#setPose(this.duration);
    const end = this.pose.worldMatrices.slice();
    this.#setPose(0);
    return end.every((value, i) => Math.abs(value - this.pose.worldMatrices[i]!) <= MEETS);
  }

  /** How far the clip has travelled by then. */
  #measureOffset(clip: number, time: number): [number, number] {
    const [x, z] = this.#getTravel(clip);
    const { duration } = this.#character.clips[clip]!;
    const share = duration > 0 ? time / duration : 0;
    return [x * share, z * share];
  }

  #getTravel(clip: number): [number, number] {
    return (this.#travels[clip] ??= computeClipTravel(this.#character, this.#character.clips[clip]!));
  }

  #check(clip: number | null): void {
    if (clip !== null && !this.#character.clips[clip]) throw new RangeError(`There is no clip ${clip}.`);
  }
}

function wrap(time: number, duration: number): number {
  return duration > 0 && (time < 0 || time >= duration)
    ? time - duration * Math.floor(time / duration)
    : time;
}
