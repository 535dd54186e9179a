import { buildEdgeTable, buildNeighbours } from '../../core/mesh/index.ts';
import { describePosition } from './body-field.ts';
import { FINGERS, JOINT_INDEX, JOINTS } from './joints.ts';
import type { Surface } from './polygonise.ts';

/** Weights of all joints, dense: [n, 53]. */
export type DenseWeights = Float32Array;

const JOINT_COUNT = JOINTS.length;
const PASSES = 70;
/** Weights below this do not spread on: far below what the four largest keep. */
const LEAST_SPREAD = 3e-4;
/** Radius (m) of a part whose joints blend over the full number of passes. */
const FULL_RADIUS = 0.055;

/**
 * Skin weights of the figure: each vertex starts with the joint whose bone segment is nearest, among those that its
 * part may follow; then the weights spread over the surface, farther on thick limbs than on thin ones. They spread
 * along the surface only, so that legs or fingers never share.
 */
export function computeFigureWeights(surface: Surface): DenseWeights {
  const count = surface.positions.length / 3;
  const weights = new Float32Array(count * JOINT_COUNT);
  const rate = new Float32Array(count);
  for (let v = 0; v < count; v++) {
    const position = [
      surface.positions[3 * v]!,
      surface.positions[3 * v + 1]!,
      surface.positions[3 * v + 2]!,
    ] as const;
    const { joint, part } = describePosition(...position);
    weights[v * JOINT_COUNT + findNearestJoint(joint, position)] = 1;
    const radius = Math.min(part.ra, part.rb) * Math.min(part.scaleX, part.scaleZ, 1);
    rate[v] = 0.6 * Math.min(1, (radius / FULL_RADIUS) ** 2);
  }
  spread(surface, weights, rate, JOINT_COUNT, PASSES);
  return weights;
}

/**
 * Diffuses rows of values over the surface: each pass moves a row towards the mean of its neighbours.
 *
 * Column by column, and only where a column is not zero yet: most joints reach a small part of the surface (a tenth
 * of the time of whole rows, measured on the figure).
 */
export function spread(
  surface: Surface,
  rows: Float32Array,
  rate: Float32Array,
  width: number,
  passes: number,
): void {
  const count = surface.positions.length / 3;
  const { start, list } = buildNeighbours(buildEdgeTable(surface.triangles, count), count);
  const current = new Float32Array(count);
  const next = new Float32Array(count);
  for (let j = 0; j < width; j++) {
    const isActive = new Uint8Array(count);
    const active: number[] = [];
    const activate = (v: number): void => {
      if (isActive[v]) return;
      isActive[v] = 1;
      active.push(v);
    };
    for (let v = 0; v < count; v++) {
      current[v] = rows[v * width + j]!;
      if (current[v] !== 0) activate(v);
    }
    for (let pass = 0; pass < passes; pass++) {
      for (let i = active.length - 1; i >= 0; i--) {
        if (current[active[i]!]! < LEAST_SPREAD) continue;
        for (let k = start[active[i]!]!; k < start[active[i]! + 1]!; k++) activate(list[k]!);
      }
      for (const v of active) {
        const from = start[v]!;
        const to = start[v + 1]!;
        let sum = 0;
        for (let k = from; k < to; k++) sum += current[list[k]!]!;
        next[v] = to > from ? current[v]! + rate[v]! * (sum / (to - from) - current[v]!) : current[v]!;
      }
      for (const v of active) current[v] = next[v]!;
    }
    for (const v of active) rows[v * width + j] = current[v]!;
  }
}

/** Joints that a part of the given joint may follow: the joint, its parent and its children of the same limb. */
const CHAINS: readonly (readonly string[])[] = [
  ['hips', 'waist', 'ribs', 'chest', 'neck', 'head'],
  ...(['_l', '_r'] as const).flatMap((side) => [
    ['chest', `collar${side}`, `arm${side}`, `forearm${side}`, `wrist${side}`],
    ['hips', `leg${side}`, `shin${side}`, `heel${side}`, `toes${side}`],
    ...FINGERS.map((finger) => [`${finger}_a${side}`, `${finger}_b${side}`, `${finger}_c${side}`]),
  ]),
];

function findNearestJoint(joint: string, position: readonly [number, number, number]): number {
  const finger = FINGERS.find((name) => joint === name);
  const own = finger ? `${finger}_a${position[0] > 0 ? '_l' : '_r'}` : joint;
  const chain =
    own === 'hips' ? CHAINS[0] : CHAINS.find((names) => names.slice(finger ? 0 : 1).includes(own));
  if (!chain) throw new Error(`No chain of joints holds "${own}".`);
  const at = chain.indexOf(own);
  const candidates = finger ? chain : chain.slice(Math.max(0, at - 1), at + 2);
  let best = JOINT_INDEX.get(own)!;
  let bestDistance = Number.POSITIVE_INFINITY;
  for (const name of candidates) {
    const from = JOINTS[JOINT_INDEX.get(name)!]!.position;
    const next = chain[chain.indexOf(name) + 1];
    const to = next ? JOINTS[JOINT_INDEX.get(next)!]!.position : extend(name);
    const d = distanceToSegment(position, from, to);
    if (d < bestDistance) {
      bestDistance = d;
      best = JOINT_INDEX.get(name)!;
    }
  }
  return best;
}

/** The last bone of a chain goes on as far as the one before it. */
function extend(name: string): readonly [number, number, number] {
  const joint = JOINTS[JOINT_INDEX.get(name)!]!;
  const parent = JOINTS[JOINT_INDEX.get(joint.parent!)!]!.position;
  return [0, 1, 2].map((k) => 2 * joint.position[k]! - parent[k]!) as [number, number, number];
}

function distanceToSegment(p: readonly number[], a: readonly number[], b: readonly number[]): number {
  const d = [0, 1, 2].map((k) => b[k]! - a[k]!);
  const dd = d.reduce((sum, value) => sum + value * value, 0);
  const t = Math.max(0, Math.min(1, [0, 1, 2].reduce((sum, k) => sum + (p[k]! - a[k]!) * d[k]!, 0) / dd));
  return Math.hypot(...[0, 1, 2].map((k) => p[k]! - a[k]! - t * d[k]!));
}

/** The four largest weights of each dense row, scaled to sum to one. */
export function keepFourLargest(weights: DenseWeights): {
  jointIndices: Uint16Array;
  jointWeights: Float32Array;
} {
  const count = weights.length / JOINT_COUNT;
  const jointIndices = new Uint16Array(4 * count);
  const jointWeights = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) {
    const row = [...weights.subarray(v * JOINT_COUNT, (v + 1) * JOINT_COUNT)].map((weight, joint) => ({
      joint,
      weight,
    }));
    row.sort((p, q) => q.weight - p.weight || p.joint - q.joint);
    const kept = row.slice(0, 4).filter(({ weight }) => weight > 0.004);
    const sum = kept.reduce((total, { weight }) => total + weight, 0);
    kept.forEach(({ joint, weight }, k) => {
      jointIndices[4 * v + k] = joint;
      jointWeights[4 * v + k] = weight / sum;
    });
  }
  return { jointIndices, jointWeights };
}
