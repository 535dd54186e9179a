import { getJointPosition } from '../figure/joints.ts';
import type { FootGoal, Side } from './figure-pose.ts';

/** Ankle height and the distance from it forward to the ball of the foot, in bind pose. */
const ANKLE = getJointPosition('heel_l');
const BALL = getJointPosition('toes_l');
export const ANKLE_HEIGHT = ANKLE[1];
const BALL_FORWARD = BALL[2] - ANKLE[2];
const BALL_DROP = ANKLE[1] - BALL[1];

/** A gait in place of numbers: all shares are of the cycle. */
export interface Gait {
  /** Seconds of a cycle of two steps. */
  seconds: number;
  /** Metres a second. */
  speed: number;
  /** Share of the cycle that a foot carries, and the share of that until its heel lifts. */
  stance: number;
  flat: number;
  /** Metres ahead of the root where the ankle lands. */
  reach: number;
  /** Height of the ankle in mid-swing over its standing height, metres. */
  lift: number;
  /** Degrees: toes up at landing, heel up at the end of the stance. */
  landing: number;
  pushOff: number;
  /** Metres to the side of the middle. */
  width: number;
}

/** Between two keys of the landing a foot still moves: it counts as planted a key (s) after it. */
const KEY_SECONDS = 1 / 30;

/** Whether the sole lies flat on the ground at a share of the foot's own cycle. */
export function isPlanted(gait: Gait, phase: number): boolean {
  const settled = Math.max(0.06 * gait.stance, KEY_SECONDS / gait.seconds);
  return phase >= settled && phase <= gait.flat * gait.stance - KEY_SECONDS / gait.seconds;
}

/**
 * Where a foot is at a share of its cycle (0: it lands). It stays put while flat, then rolls over its ball, then
 * swings ahead to where it lands next.
 */
export function stepFoot(gait: Gait, side: Side, time: number): FootGoal {
  const cycles = time / gait.seconds + (side === 'l' ? 0 : 0.5);
  const cycle = Math.floor(cycles);
  const phase = cycles - cycle;
  const stride = gait.speed * gait.seconds;
  const landTime = (cycle - (side === 'l' ? 0 : 0.5)) * gait.seconds;
  const x = side === 'l' ? gait.width : -gait.width;
  const planted = gait.speed * landTime + gait.reach;
  if (phase <= gait.stance) {
    const rise = clamp01((phase / gait.stance - gait.flat) / (1 - gait.flat));
    const settle = clamp01(1 - phase / (0.06 * gait.stance));
    const pitch = gait.pushOff * ease(rise) - gait.landing * settle;
    return rollOverBall(x, planted, pitch, Math.max(0, pitch), settle);
  }
  const t = (phase - gait.stance) / (1 - gait.stance);
  const from = rollOverBall(x, planted, gait.pushOff, 0, 0).ankle;
  const to = rollOverBall(x, planted + stride, -gait.landing, 0, 1).ankle;
  const s = ease(t);
  const arc = Math.sin(Math.PI * t) ** 2;
  return {
    ankle: [
      x,
      from[1] + s * (to[1] - from[1]) + gait.lift * arc,
      from[2] + (0.3 * t + 0.7 * s) * (to[2] - from[2]),
    ],
    pitch:
      gait.pushOff * (1 - ease(Math.min(1, 1.3 * t))) - gait.landing * ease(Math.max(0, (t - 0.45) / 0.55)),
    heading: 0,
    toeBend: 12 * (1 - t),
  };
}

/** The ankle when the foot pitches about its ball (toes down) or its heel (toes up). */
function rollOverBall(x: number, z: number, pitch: number, toeBend: number, heelRoll: number): FootGoal {
  const angle = (pitch * Math.PI) / 180;
  if (pitch < 0) {
    // Rolls on the back of the heel: the ankle hardly moves.
    return { ankle: [x, ANKLE_HEIGHT + 0.012 * heelRoll, z - 0.02 * heelRoll], pitch, heading: 0 };
  }
  return {
    ankle: [
      x,
      BALL[1] + BALL_DROP * Math.cos(angle) + BALL_FORWARD * Math.sin(angle),
      z + BALL_FORWARD - BALL_FORWARD * Math.cos(angle) + BALL_DROP * Math.sin(angle),
    ],
    pitch,
    heading: 0,
    toeBend,
  };
}

export function ease(t: number): number {
  const u = clamp01(t);
  return u * u * (3 - 2 * u);
}

export function clamp01(t: number): number {
  return Math.max(0, Math.min(1, t));
}
