import type { ArmGoal, FigureGoal, FootGoal, Side } from './figure-pose.ts';
import { ANKLE_HEIGHT, clamp01, ease, type Gait, isPlanted, stepFoot } from './foot-steps.ts';

/** A clip as a function of time; baked to keys by `bakeClip`. */
export interface ClipRecipe {
  name: string;
  seconds: number;
  goalAt(time: number): FigureGoal;
  /** Whether the sole of a foot is flat on the ground, and so must not move. */
  isPlanted(side: Side, time: number): boolean;
}

const wave = (time: number, seconds: number, shift = 0): number =>
  Math.sin(2 * Math.PI * (time / seconds + shift));
const always = (): boolean => true;

const HANGING: ArmGoal = { lower: 34, swing: 0, elbow: 14 };

function standFoot(side: Side, x: number, z: number, heading: number): FootGoal {
  return { ankle: [side === 'l' ? x : -x, ANKLE_HEIGHT, z], pitch: 0, heading };
}

const breath: ClipRecipe = {
  name: 'standing breath',
  seconds: 4,
  isPlanted: always,
  goalAt(time) {
    const breathe = wave(time, 4, -0.25);
    const shift = wave(time, 4);
    return {
      root: [0, 0],
      heading: 0,
      hips: [0.012 * shift, -0.012 + 0.002 * breathe, 0],
      hipsBend: [1, 0, -1.2 * shift],
      waist: [1, 0, 0.8 * shift],
      ribs: [-1.5 - 1.2 * breathe, 0, 0.5 * shift],
      chest: [-1 - 1.5 * breathe, 1.5 * shift, 0],
      neck: [2 + 0.8 * breathe, 0, 0],
      head: [1 + 0.6 * breathe, -3 * shift, 0],
      arms: {
        l: { ...HANGING, lower: 31 - 1.5 * breathe, swing: 3 + 1.5 * shift },
        r: { ...HANGING, lower: 31 - 1.5 * breathe, swing: 3 - 1.5 * shift },
      },
      feet: { l: standFoot('l', 0.115, 0.01, 8), r: standFoot('r', 0.115, -0.05, -9) },
    };
  },
};

const WALK: Gait = {
  seconds: 16 / 15,
  speed: 1.05,
  stance: 0.62,
  flat: 0.6,
  reach: 0.27,
  lift: 0.075,
  landing: 16,
  pushOff: 42,
  width: 0.085,
};

const walk: ClipRecipe = {
  name: 'walk',
  seconds: WALK.seconds,
  isPlanted: (side, time) => isPlanted(WALK, cyclePhase(WALK, side, time)),
  goalAt(time) {
    const step = wave(time, WALK.seconds, 0.25 - 0.04);
    const bob = wave(time, WALK.seconds / 2, 0.42);
    const sway = wave(time, WALK.seconds, -0.02);
    const arm = (sign: number): ArmGoal => ({
      lower: 32,
      swing: 4 - sign * 22 * step,
      elbow: 22 - sign * 10 * step,
    });
    return {
      root: [0, WALK.speed * time],
      heading: 0,
      hips: [0.016 * sway, -0.037 + 0.012 * bob, 0],
      hipsBend: [3, -5 * step, 2.6 * sway],
      waist: [1, 2.5 * step, -1.6 * sway],
      ribs: [0, 4 * step, -1 * sway],
      chest: [1, 4 * step, -0.6 * sway],
      neck: [-1, -2.5 * step, 0],
      head: [-2 + 0.8 * bob, -2.5 * step, 0.4 * sway],
      arms: { l: arm(1), r: arm(-1) },
      feet: { l: stepFoot(WALK, 'l', time), r: stepFoot(WALK, 'r', time) },
    };
  },
};

const RUN: Gait = {
  seconds: 0.7,
  speed: 2.5,
  stance: 0.36,
  flat: 0.5,
  reach: 0.17,
  lift: 0.26,
  landing: 6,
  pushOff: 52,
  width: 0.06,
};

const run: ClipRecipe = {
  name: 'run',
  seconds: RUN.seconds,
  isPlanted: (side, time) => isPlanted(RUN, cyclePhase(RUN, side, time)),
  goalAt(time) {
    const step = wave(time, RUN.seconds, 0.25 - 0.03);
    const bob = wave(time, RUN.seconds / 2, -0.42);
    const sway = wave(time, RUN.seconds);
    const arm = (sign: number): ArmGoal => ({
      lower: 25,
      swing: 6 - sign * 34 * step,
      elbow: 78 - sign * 14 * step,
      curl: 42,
    });
    return {
      root: [0, RUN.speed * time],
      heading: 0,
      hips: [0.008 * sway, -0.075 + 0.028 * bob, 0],
      hipsBend: [10, -8 * step, 2.5 * sway],
      waist: [4, 4 * step, -1.5 * sway],
      ribs: [2, 6 * step, -1 * sway],
      chest: [1, 6 * step, 0],
      neck: [-6, -4 * step, 0],
      head: [-7 + 1.2 * bob, -4 * step, 0],
      arms: { l: arm(1), r: arm(-1) },
      feet: { l: stepFoot(RUN, 'l', time), r: stepFoot(RUN, 'r', time) },
    };
  },
};

function cyclePhase(gait: Gait, side: Side, time: number): number {
  const cycles = time / gait.seconds + (side === 'l' ? 0 : 0.5);
  return cycles - Math.floor(cycles);
}

/** One foot's step from a place and heading to another, between two times. */
interface Step {
  side: Side;
  start: number;
  end: number;
  heading: number;
}

const TURN = { angle: 100, stance: 0.125 };
const TURN_STEPS: readonly Step[] = [
  { side: 'l', start: 0.3, end: 0.62, heading: TURN.angle },
  { side: 'r', start: 0.56, end: 0.9, heading: TURN.angle },
  { side: 'r', start: 1.7, end: 2.02, heading: 0 },
  { side: 'l', start: 1.96, end: 2.3, heading: 0 },
];

/** Share of the turn that a curve through its four corner times has made. */
function turned(time: number, lead: number): number {
  return ease((time + lead - 0.32) / 0.55) - ease((time + lead - 1.72) / 0.55);
}

function turnFoot(side: Side, time: number): FootGoal {
  let heading = 0;
  let from = 0;
  let t = 1;
  for (const step of TURN_STEPS) {
    if (step.side !== side || time < step.start) continue;
    from = heading;
    heading = step.heading;
    t = clamp01((time - step.start) / (step.end - step.start));
  }
  const now = from + ease(t) * (heading - from);
  const angle = (now * Math.PI) / 180;
  const x = side === 'l' ? TURN.stance : -TURN.stance;
  const rise = Math.sin(Math.PI * t);
  return {
    ankle: [x * Math.cos(angle), ANKLE_HEIGHT + 0.07 * rise, -x * Math.sin(angle)],
    pitch: 14 * rise,
    heading: now + (side === 'l' ? 6 : -6),
  };
}

const turn: ClipRecipe = {
  name: 'sharp turn',
  seconds: 2.8,
  isPlanted: (side, time) =>
    TURN_STEPS.every((step) => step.side !== side || time <= step.start || time >= step.end),
  goalAt(time) {
    const at = (lead: number): number => TURN.angle * turned(time, lead);
    const hips = at(0);
    // Head first, then chest, then hips: each turns the rest of the way to its own angle.
    const lead = (ahead: number, behind: number): number => at(ahead) - at(behind);
    const speed = (turned(time + 0.02, 0) - turned(time - 0.02, 0)) / 0.04;
    const lean = 3.5 * speed;
    const fling = Math.abs(speed) * 6;
    return {
      root: [0, 0],
      heading: hips,
      hips: [0, -0.03 - 0.02 * Math.abs(speed / 2), 0],
      hipsBend: [3, 0, -lean],
      waist: [1, lead(0.03, 0), 0],
      ribs: [1, lead(0.06, 0.03), lean / 2],
      chest: [0, lead(0.09, 0.06), lean / 2],
      neck: [0, lead(0.13, 0.09), 0],
      head: [0, lead(0.17, 0.13), 0],
      arms: {
        l: { lower: 30 - fling, swing: 4 + 3 * speed, elbow: 20 + fling },
        r: { lower: 30 - fling, swing: 4 - 3 * speed, elbow: 20 + fling },
      },
      feet: { l: turnFoot('l', time), r: turnFoot('r', time) },
    };
  },
};

const CROUCH_SECONDS = 3.4;

const crouch: ClipRecipe = {
  name: 'crouch and pull',
  seconds: CROUCH_SECONDS,
  isPlanted: always,
  goalAt(time) {
    const down = ease(time / 0.9) - ease((time - 2.5) / 0.9);
    // Two pulls, hand over hand, while crouched.
    const pulling = ease((time - 0.8) / 0.3) - ease((time - 2.4) / 0.3);
    const pull = pulling * (0.5 - 0.5 * Math.cos((2 * Math.PI * (time - 0.8)) / 0.95));
    const reach = down * (1 - 0.75 * pull);
    const arm = (shift: number): ArmGoal => ({
      lower: 31 - 6 * down,
      swing: 4 + (52 + shift) * reach + 12 * down,
      elbow: 14 + 16 * down + 74 * pull,
      turn: 20 * down,
      curl: 18 + 42 * down,
    });
    return {
      root: [0, 0],
      heading: 0,
      hips: [0, -0.012 - 0.22 * down, -0.08 * down - 0.05 * pull],
      hipsBend: [2 + 22 * down - 12 * pull, 0, 0],
      waist: [1 + 9 * down - 5 * pull, 5 * pull, 0],
      ribs: [7 * down - 4 * pull, 6 * pull, 0],
      chest: [4 * down - 4 * pull, 6 * pull, 0],
      neck: [1 - 9 * down + 4 * pull, -8 * pull, 0],
      head: [-12 * down + 4 * pull, -8 * pull, 0],
      arms: { l: arm(8), r: arm(-6) },
      feet: { l: standFoot('l', 0.15, 0.1, 14), r: standFoot('r', 0.15, -0.12, -16) },
    };
  },
};

export const PILOT_CLIPS: readonly ClipRecipe[] = [breath, walk, run, turn, crouch];
