import { invertAffine, transformPoint } from '../math/index.ts';
import { bindSection, type Character, Pose } from '../rig/index.ts';
import type { JointShape } from './collision-shape.ts';
import { fitTaperedCapsule } from './fit-tapered-capsule.ts';
import { mirrorBody } from './mirror-body.ts';

export interface SuggestOptions {
  /** Sections whose skin is fitted: the body, not the garments. */
  sections: readonly number[];
  /** World-space bind positions of the points that can touch a body, [n, 3]; joints out of reach are left out. */
  reachable?: Float32Array;
  /** Distance added to the fitted radii, metres. Default 0.006. */
  margin?: number;
  /** At most so many bodies, largest skin first. Default 14. */
  most?: number;
  /** Make a body of one side the mirror of the other (about x = 0 in bind pose). Default true. */
  mirror?: boolean;
}

export interface SuggestedBody extends JointShape {
  name: string;
  coverage: number;
  overhang: number;
}

/** A joint needs this many skin points of its own to get a body. */
const LEAST_POINTS = 24;
/** Bodies thinner than this are fingers: they cost and stop nothing. */
const LEAST_RADIUS = 0.018;

/**
 * Fits one tapered capsule to the skin of each joint that a garment can reach, in bind pose.
 *
 * A point belongs to the joint with its largest weight; the bone runs from the joint to the mean of its child
 * joints that carry skin. O(points · joints) at worst.
 */
export function suggestBodies(character: Character, options: SuggestOptions): SuggestedBody[] {
  const { margin = 0.006, most = 14, mirror = true } = options;
  const pose = new Pose(character);
  pose.setBind();
  const pointsOfNode = gatherSkin(character, options.sections);
  const reach = options.reachable ? boundsOf(options.reachable) : null;
  const candidates: (SuggestedBody & { size: number })[] = [];
  for (const [node, list] of pointsOfNode) {
    if (list.length < 3 * LEAST_POINTS) continue;
    const points = Float32Array.from(list);
    if (reach && !touches(boundsOf(points), reach)) continue;
    const from = worldPosition(pose, node);
    const to = findBoneEnd(character, pose, node, points, pointsOfNode);
    const fit = fitTaperedCapsule(points, from, to, { margin });
    if (!fit || Math.max(fit.radiusA, fit.radiusB) < LEAST_RADIUS + margin) continue;
    const body = toJointSpace(pose, node, fit);
    if (!body) continue;
    const name = character.skeleton.names[node]!;
    candidates.push({ ...body, name, coverage: fit.coverage, overhang: fit.overhang, size: list.length });
  }
  candidates.sort((p, q) => q.size - p.size || p.node - q.node);
  const chosen = candidates.slice(0, most).sort((p, q) => p.node - q.node);
  if (mirror) makeSidesAlike(character, pose, chosen);
  return chosen.map(({ size: _, ...body }) => body);
}

function gatherSkin(character: Character, sections: readonly number[]): Map<number, number[]> {
  const pointsOfNode = new Map<number, number[]>();
  for (const index of sections) {
    const section = character.sections[index]!;
    const skin = character.skins[section.skin]!;
    const positions = bindSection(character, index);
    for (let v = 0; v < positions.length / 3; v++) {
      let best = -1;
      let bestWeight = 0;
      for (let k = v * section.influences; k < (v + 1) * section.influences; k++) {
        if (section.jointWeights[k]! > bestWeight) {
          bestWeight = section.jointWeights[k]!;
          best = skin.joints[section.jointIndices[k]!]!;
        }
      }
      if (best < 0) continue;
      const list = pointsOfNode.get(best);
      const position = [positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!];
      if (list) list.push(...position);
      else pointsOfNode.set(best, position);
    }
  }
  return pointsOfNode;
}

function worldPosition(pose: Pose, node: number): [number, number, number] {
  const w = pose.worldMatrices;
  return [w[16 * node + 12]!, w[16 * node + 13]!, w[16 * node + 14]!];
}

/** The child joint that carries most skin on; without one, the far side of the skin seen from the joint. */
function findBoneEnd(
  character: Character,
  pose: Pose,
  node: number,
  points: Float32Array,
  pointsOfNode: Map<number, number[]>,
): [number, number, number] {
  const from = worldPosition(pose, node);
  const children: number[] = [];
  character.skeleton.parents.forEach((parent, child) => {
    if (parent === node && pointsOfNode.has(child)) children.push(child);
  });
  const mean: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < points.length; i++) mean[i % 3] = mean[i % 3]! + (3 * points[i]!) / points.length;
  if (children.length > 0) {
    // Of several children (hips: waist and two legs) take the one that the skin's middle points to.
    const toMiddle = [mean[0] - from[0], mean[1] - from[1], mean[2] - from[2]];
    let best: [number, number, number] | null = null;
    let bestScore = Number.NEGATIVE_INFINITY;
    for (const child of children) {
      const position = worldPosition(pose, child);
      const d = [position[0] - from[0], position[1] - from[1], position[2] - from[2]];
      const length = Math.hypot(...d);
      if (length < 0.03) continue;
      const score = (d[0]! * toMiddle[0]! + d[1]! * toMiddle[1]! + d[2]! * toMiddle[2]!) / length;
      if (score > bestScore) {
        bestScore = score;
        best = position;
      }
    }
    if (best) return best;
  }
  return [2 * mean[0] - from[0], 2 * mean[1] - from[1], 2 * mean[2] - from[2]];
}

function toJointSpace(
  pose: Pose,
  node: number,
  world: { a: number[]; b: number[]; radiusA: number; radiusB: number },
): JointShape | null {
  const inverse = new Float64Array(16);
  if (!invertAffine(inverse, 0, pose.worldMatrices, 16 * node)) return null;
  const scale = Math.hypot(inverse[0]!, inverse[1]!, inverse[2]!);
  const a = new Float64Array(3);
  const b = new Float64Array(3);
  transformPoint(a, 0, inverse, 0, world.a[0]!, world.a[1]!, world.a[2]!);
  transformPoint(b, 0, inverse, 0, world.b[0]!, world.b[1]!, world.b[2]!);
  return {
    kind: 'taperedCapsule',
    node,
    a: [a[0]!, a[1]!, a[2]!],
    b: [b[0]!, b[1]!, b[2]!],
    radiusA: world.radiusA * scale,
    radiusB: world.radiusB * scale,
  };
}

function makeSidesAlike(character: Character, pose: Pose, bodies: SuggestedBody[]): void {
  const done = new Set<number>();
  for (const body of bodies) {
    if (done.has(body.node)) continue;
    const mirrored = mirrorBody(character, pose, body);
    if (!mirrored || mirrored.node === body.node) continue;
    const other = bodies.find((candidate) => candidate.node === mirrored.node);
    if (other) Object.assign(other, mirrored);
    done.add(mirrored.node);
  }
}

type Bounds = [number, number, number, number, number, number];

function boundsOf(points: Float32Array): Bounds {
  const bounds: Bounds = [1e9, 1e9, 1e9, -1e9, -1e9, -1e9];
  for (let i = 0; i < points.length; i++) {
    bounds[i % 3] = Math.min(bounds[i % 3]!, points[i]!);
    bounds[3 + (i % 3)] = Math.max(bounds[3 + (i % 3)]!, points[i]!);
  }
  return bounds;
}

function touches(p: Bounds, q: Bounds): boolean {
  for (let k = 0; k < 3; k++) if (p[k]! > q[3 + k]! || q[k]! > p[3 + k]!) return false;
  return true;
}
