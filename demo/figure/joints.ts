import type { Skeleton } from '../../core/rig/index.ts';
import { FIGURE_PARTS } from './figure-parts.ts';

type Position = readonly [number, number, number];

interface Joint {
  name: string;
  parent: string | null;
  position: Position;
}

const SPINE: readonly [string, string | null, Position][] = [
  ['root', null, [0, 0, 0]],
  ['hips', 'root', [0, 0.95, 0]],
  ['waist', 'hips', [0, 1.06, 0.005]],
  ['ribs', 'waist', [0, 1.19, 0]],
  ['chest', 'ribs', [0, 1.32, -0.015]],
  ['neck', 'chest', [0, 1.46, -0.025]],
  ['head', 'neck', [0, 1.55, -0.005]],
];

const LEFT: readonly [string, string, Position][] = [
  ['collar', 'chest', [0.03, 1.41, -0.01]],
  ['arm', 'collar', [0.17, 1.4, -0.02]],
  ['forearm', 'arm', [0.368, 1.202, -0.025]],
  ['wrist', 'forearm', [0.545, 1.025, 0]],
  ['leg', 'hips', [0.09, 0.91, 0]],
  ['shin', 'leg', [0.1, 0.5, 0.005]],
  ['heel', 'shin', [0.105, 0.085, -0.02]],
  ['toes', 'heel', [0.115, 0.02, 0.11]],
];

export const FINGERS = ['thumb', 'index', 'middle', 'ring', 'little'] as const;
/** Where the three joints of a finger sit along it. */
const FINGER_SHARES: readonly [string, number][] = [
  ['a', 0],
  ['b', 0.42],
  ['c', 0.74],
];

/** The 53 joints of the figure in bind pose (arms 45° down), world space, parents first. */
export const JOINTS: readonly Joint[] = createJoints();

export const JOINT_INDEX: ReadonlyMap<string, number> = new Map(
  JOINTS.map((joint, index) => [joint.name, index]),
);

function createJoints(): Joint[] {
  const joints: Joint[] = SPINE.map(([name, parent, position]) => ({ name, parent, position }));
  for (const side of ['l', 'r'] as const) {
    const mirror = (position: Position): Position =>
      side === 'l' ? position : [-position[0], position[1], position[2]];
    for (const [name, parent, position] of LEFT) {
      const isSpine = SPINE.some(([spine]) => spine === parent);
      joints.push({
        name: `${name}_${side}`,
        parent: isSpine ? parent : `${parent}_${side}`,
        position: mirror(position),
      });
    }
    for (const finger of FINGERS) {
      const part = FIGURE_PARTS.find((candidate) => candidate.name === finger)!;
      let parent = `wrist_${side}`;
      for (const [suffix, share] of FINGER_SHARES) {
        const at = (k: number): number => part.a[k]! + share * (part.b[k]! - part.a[k]!);
        const name = `${finger}_${suffix}_${side}`;
        joints.push({ name, parent, position: mirror([at(0), at(1), at(2)]) });
        parent = name;
      }
    }
  }
  return joints;
}

/** World place of a joint in bind pose. */
export function getJointPosition(name: string): Position {
  const index = JOINT_INDEX.get(name);
  if (index === undefined) throw new Error(`There is no joint "${name}".`);
  return JOINTS[index]!.position;
}

/** Joints with world-aligned axes; the mesh nodes follow behind them. */
export function createSkeleton(meshNodes: readonly string[]): Skeleton {
  const count = JOINTS.length + meshNodes.length;
  const skeleton: Skeleton = {
    names: [...JOINTS.map((joint) => joint.name), ...meshNodes],
    parents: new Int32Array(count).fill(-1),
    translations: new Float64Array(3 * count),
    rotations: new Float64Array(4 * count),
    scales: new Float64Array(3 * count).fill(1),
  };
  for (let i = 0; i < count; i++) skeleton.rotations[4 * i + 3] = 1;
  JOINTS.forEach((joint, i) => {
    const parent = joint.parent === null ? -1 : JOINT_INDEX.get(joint.parent)!;
    skeleton.parents[i] = parent;
    const from = parent < 0 ? ([0, 0, 0] as const) : JOINTS[parent]!.position;
    // Rounded as a modelling program would write them; sums stay within a micrometre.
    for (let k = 0; k < 3; k++)
      skeleton.translations[3 * i + k] = Math.round((joint.position[k]! - from[k]!) * 1e6) / 1e6;
  });
  return skeleton;
}

/** Inverse bind matrices of all joints: pure translations, [53, 16]. */
export function createInverseBinds(skeleton: Skeleton): Float32Array {
  const world = new Float64Array(3 * JOINTS.length);
  const inverseBinds = new Float32Array(16 * JOINTS.length);
  for (let i = 0; i < JOINTS.length; i++) {
    const parent = skeleton.parents[i]!;
    for (let k = 0; k < 3; k++) {
      world[3 * i + k] = skeleton.translations[3 * i + k]! + (parent < 0 ? 0 : world[3 * parent + k]!);
      inverseBinds[16 * i + 12 + k] = -world[3 * i + k]!;
    }
    for (let k = 0; k < 16; k += 5) inverseBinds[16 * i + k] = 1;
  }
  return inverseBinds;
}
