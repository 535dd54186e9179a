import { quat, vec3 } from 'gl-matrix';
import { getJointPosition, JOINT_INDEX, JOINTS } from '../figure/joints.ts';

type Triple = readonly [number, number, number];
export type Side = 'l' | 'r';

/** Degrees for bends (x: nod forward, y: turn left, z: lean to the right side); metres for places. */
export interface FootGoal {
  /** World place of the ankle (the joint `heel`). */
  ankle: Triple;
  /** Degrees: toes down positive. */
  pitch: number;
  /** Degrees about the vertical, 0 facing +Z, positive to the left. */
  heading: number;
  /** Degrees that the toes bend up against the foot. */
  toeBend?: number;
}

export interface ArmGoal {
  /** Degrees below the bind pose (45° down): 33 hangs beside the body. */
  lower: number;
  /** Degrees forward. */
  swing: number;
  /** Degrees that the elbow bends. */
  elbow: number;
  /** Degrees that the upper arm turns inward about itself. */
  turn?: number;
  /** Degrees that the fingers curl. */
  curl?: number;
}

export interface FigureGoal {
  /** World place of `root` on the ground; its heading in degrees. */
  root: readonly [x: number, z: number];
  heading: number;
  /** Offset of the hips from their bind place, in the heading's frame; and their bend. */
  hips: Triple;
  hipsBend: Triple;
  waist?: Triple;
  ribs?: Triple;
  chest?: Triple;
  neck?: Triple;
  head?: Triple;
  arms: Record<Side, ArmGoal>;
  feet: Record<Side, FootGoal>;
}

/** Local rotation of each joint (xyzw, [53, 4]) and the places of `root` and `hips`. */
export interface FigurePose {
  rotations: Float32Array;
  rootPosition: Triple;
  hipsPosition: Triple;
}

const DEGREE = Math.PI / 180;

/** Turns goals into joint rotations: spine and arms forward, legs by two-bone inverse kinematics to the ankles. */
export function solveFigurePose(goal: FigureGoal): FigurePose {
  const solver = new FigureSolver(goal);
  return solver.solve();
}

class FigureSolver {
  readonly #goal: FigureGoal;
  readonly #local: quat[] = JOINTS.map(() => quat.create());
  readonly #world: quat[] = JOINTS.map(() => quat.create());
  readonly #places: vec3[] = JOINTS.map((joint) => vec3.clone(joint.position as vec3));

  constructor(goal: FigureGoal) {
    this.#goal = goal;
  }

  solve(): FigurePose {
    const goal = this.#goal;
    quat.setAxisAngle(this.#local[0]!, [0, 1, 0], goal.heading * DEGREE);
    this.#set('hips', bend(goal.hipsBend));
    for (const name of ['waist', 'ribs', 'chest', 'neck', 'head'] as const)
      this.#set(name, bend(goal[name] ?? [0, 0, 0]));
    this.#updateWorld();
    for (const side of ['l', 'r'] as const) {
      this.#setArm(side, goal.arms[side]);
      this.#setLeg(side, goal.feet[side]);
    }
    const rotations = new Float32Array(4 * JOINTS.length);
    this.#local.forEach((rotation, i) => {
      rotations.set(rotation, 4 * i);
    });
    const hips = getJointPosition('hips');
    return {
      rotations,
      rootPosition: [goal.root[0], 0, goal.root[1]],
      hipsPosition: [hips[0] + goal.hips[0], hips[1] + goal.hips[1], hips[2] + goal.hips[2]],
    };
  }

  #setArm(side: Side, arm: ArmGoal): void {
    const sign = side === 'l' ? 1 : -1;
    const lower = quat.setAxisAngle(quat.create(), [0, 0, 1], -sign * arm.lower * DEGREE);
    const swing = quat.setAxisAngle(quat.create(), [1, 0, 0], -arm.swing * DEGREE);
    const along = vec3.normalize(vec3.create(), [sign, -1, 0]);
    const turn = quat.setAxisAngle(quat.create(), along, sign * -(arm.turn ?? 0) * DEGREE);
    const rotation = quat.multiply(quat.create(), swing, lower);
    this.#set(`arm_${side}`, quat.multiply(quat.create(), rotation, turn));
    // The elbow bends about the axis that is world X once the arm hangs down.
    const axis = vec3.transformQuat(
      vec3.create(),
      [1, 0, 0],
      quat.setAxisAngle(quat.create(), [0, 0, 1], sign * 45 * DEGREE),
    );
    this.#set(`forearm_${side}`, quat.setAxisAngle(quat.create(), axis, -arm.elbow * DEGREE));
    const curl = (arm.curl ?? 18) * DEGREE;
    for (const finger of ['index', 'middle', 'ring', 'little']) {
      for (const knuckle of ['a', 'b', 'c']) {
        // Fingers run along the arm; the palm faces inward, so they curl about Z.
        this.#set(`${finger}_${knuckle}_${side}`, quat.setAxisAngle(quat.create(), [0, 0, 1], -sign * curl));
      }
    }
  }

  #setLeg(side: Side, foot: FootGoal): void {
    const leg = JOINT_INDEX.get(`leg_${side}`)!;
    const shin = JOINT_INDEX.get(`shin_${side}`)!;
    const heel = JOINT_INDEX.get(`heel_${side}`)!;
    const hip = this.#places[leg]!;
    const heading = foot.heading * DEGREE;
    const toKnee = Math.hypot(...between(leg, shin));
    const toAnkle = Math.hypot(...between(shin, heel));
    const displacement = vec3.subtract(vec3.create(), foot.ankle as vec3, hip);
    const distance = Math.min(vec3.length(displacement), 0.9995 * (toKnee + toAnkle));
    const down = vec3.normalize(vec3.create(), displacement);
    // Law of cosines: the angle at the hip between the way to the ankle and the thigh.
    const cosine = (toKnee ** 2 + distance ** 2 - toAnkle ** 2) / (2 * toKnee * distance);
    const angle = Math.acos(Math.max(-1, Math.min(1, cosine)));
    const sign = side === 'l' ? 1 : -1;
    // The knee points between where the foot and the hips face.
    const outward = (heading + this.#goal.heading * DEGREE) / 2 + sign * 5 * DEGREE;
    const forward = vec3.fromValues(Math.sin(outward), 0, Math.cos(outward));
    vec3.scaleAndAdd(forward, forward, down, -vec3.dot(forward, down));
    vec3.normalize(forward, forward);
    const thigh = vec3.scale(vec3.create(), down, Math.cos(angle));
    vec3.scaleAndAdd(thigh, thigh, forward, Math.sin(angle));
    const knee = vec3.scaleAndAdd(vec3.create(), hip, thigh, toKnee);
    const ankle = vec3.scaleAndAdd(vec3.create(), hip, down, distance);
    const shank = vec3.normalize(vec3.create(), vec3.subtract(vec3.create(), ankle, knee));
    this.#setWorld(leg, turnTo(between(leg, shin), thigh, forward));
    this.#setWorld(shin, turnTo(between(shin, heel), shank, forward));
    const flat = quat.setAxisAngle(quat.create(), [0, 1, 0], heading);
    this.#setWorld(
      heel,
      quat.multiply(quat.create(), flat, quat.setAxisAngle(quat.create(), [1, 0, 0], foot.pitch * DEGREE)),
    );
    this.#set(`toes_${side}`, quat.setAxisAngle(quat.create(), [1, 0, 0], -(foot.toeBend ?? 0) * DEGREE));
  }

  #set(name: string, rotation: quat): void {
    quat.copy(this.#local[JOINT_INDEX.get(name)!]!, rotation);
  }

  #setWorld(joint: number, rotation: quat): void {
    const parent = JOINT_INDEX.get(JOINTS[joint]!.parent!)!;
    quat.multiply(this.#local[joint]!, quat.invert(quat.create(), this.#world[parent]!), rotation);
    quat.copy(this.#world[joint]!, rotation);
  }

  #updateWorld(): void {
    JOINTS.forEach((joint, i) => {
      const parent = joint.parent === null ? -1 : JOINT_INDEX.get(joint.parent)!;
      if (parent < 0) {
        quat.copy(this.#world[i]!, this.#local[i]!);
        vec3.set(this.#places[i]!, this.#goal.root[0], 0, this.#goal.root[1]);
        return;
      }
      quat.multiply(this.#world[i]!, this.#world[parent]!, this.#local[i]!);
      const offset = between(parent, i);
      if (joint.name === 'hips') for (let k = 0; k < 3; k++) offset[k] = offset[k]! + this.#goal.hips[k]!;
      vec3.transformQuat(offset, offset, this.#world[parent]!);
      vec3.add(this.#places[i]!, this.#places[parent]!, offset);
    });
  }
}

/** Nod, then lean, then turn. */
function bend([x, y, z]: Triple): quat {
  return quat.fromEuler(quat.create(), x, y, z, 'yzx');
}

function between(from: number, to: number): vec3 {
  return vec3.subtract(vec3.create(), JOINTS[to]!.position as vec3, JOINTS[from]!.position as vec3);
}

/** World rotation that takes a bind direction to a new one, keeping +Z as near `forward` as it goes. */
function turnTo(bindDirection: vec3, direction: vec3, forward: vec3): quat {
  const source = frame(bindDirection, [0, 0, 1]);
  const target = frame(direction, forward);
  return quat.multiply(quat.create(), target, quat.invert(quat.create(), source));
}

function frame(direction: vec3, forward: vec3): quat {
  const y = vec3.normalize(vec3.create(), direction);
  const z = vec3.scaleAndAdd(vec3.create(), forward, y, -vec3.dot(forward, y));
  vec3.normalize(z, z);
  const x = vec3.cross(vec3.create(), y, z);
  const rotation = quat.fromMat3(quat.create(), [...x, ...y, ...z] as unknown as Float32Array & {
    length: 9;
  });
  return quat.normalize(rotation, rotation);
}
