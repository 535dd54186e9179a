import {
  type BodyShape,
  carryToJoint,
  createShapeMap,
  getShapeDefinition,
  type RoundShape,
} from '../bodies/index.ts';
import type { RecordId } from '../document/index.ts';
import { distanceBetween, invertAffine, type MutableVector3 } from '../math/index.ts';
import { findMirrorPlane, type MirrorPlane, mirrorName, Pose, toReflection } from '../rig/index.ts';
import type { BodySkin } from './body-skin.ts';
import { type CapsuleFit, fitCapsules } from './fit-capsules.ts';
import { groupSkin, type SkinGroup } from './skin-groups.ts';

/** A shape on a joint of the skeleton, in the joint's space. */
export interface PlacedShape {
  node: number;
  shape: BodyShape;
  /** Added all around, m. */
  margin: number;
  /** Of a body that was there before. */
  recordId?: RecordId;
}

/** Round shapes that bodies may be made of. */
export type SuggestedKind = RoundShape['kind'];

/** Bodies that are taken together or not at all: one, several side by side, or those of both sides. */
export interface Candidate {
  /** Candidates of one key are for the same skin: only one of them is taken. */
  key: string;
  bodies: readonly PlacedShape[];
}

export interface CandidateOptions {
  /** How much each point of the skin may be touched, 0 to 1, [n]: groups without any are left out. */
  reach: Float32Array;
  /** Added around when shapes are judged, m. */
  margin: number;
  /** Bodies of one side are the mirror of the other's, where the figure is. */
  mirrors: boolean;
  /** Shapes that may be used, at least one. */
  kinds: readonly SuggestedKind[];
  /** Groups of skin that are looked at: each of so many, from this one on. Several workers share them. */
  part?: { index: number; count: number };
}

/** Skin with less of its area in reach is no garment's. */
const LEAST_REACH = 0.03;
/** A fit that covers so much with no more overhang, m, needs no further shape; one that overhangs by more than `MOST` is none. */
const ENOUGH_COVERAGE = 0.95;
const ENOUGH_OVERHANG = 0.0115;
const MOST_OVERHANG = 0.0145;
/** Of a single one, which stands for what is not round at all: a hand with its fingers apart, m. */
const MOST_SINGLE_OVERHANG = 0.018;
const MOST_COUNT = 3;
/** Points that are looked at for each shape. */
const MOST_POINTS = 160;

/**
 * All bodies that are worth a try: for the skin of each joint, and of each two that follow one another, one capsule, and two or three
 * side by side where one round shape cannot fill it; joints with a side in pairs. Yields the share done.
 */
export function* listCandidates(
  skin: BodySkin,
  { reach, margin, mirrors, kinds, part = { index: 0, count: 1 } }: CandidateOptions,
): Generator<number, Candidate[]> {
  const { character, areas } = skin;
  const pose = new Pose(character);
  pose.setBind();
  const plane = mirrors ? findMirrorPlane(character.skeleton, pose.worldMatrices, skin.sidePairs) : null;
  const touched = groupSkin(skin).filter((group) => isTouched(group, areas, reach));
  const findOther = ({ joints }: SkinGroup): SkinGroup | undefined => {
    const { names } = character.skeleton;
    const mirrored = nameJoints(
      joints.map((node) => names.indexOf(mirrorName(names[node]!, skin.sidePairs) ?? '')),
    );
    return touched.find((other) => nameJoints(other.joints) === mirrored);
  };
  // One side stands for both where both are touched; what only one sleeve covers is fitted alone.
  const sides = touched.map((group) => ({ group, other: plane ? findOther(group) : undefined }));
  const inReach = sides.filter(
    ({ group, other }) => !other || Math.min(...group.joints) < Math.min(...other.joints),
  );
  const groups = inReach.filter((_, g) => g % part.count === part.index);
  const candidates: Candidate[] = [];
  for (const [g, { group, other }] of groups.entries()) {
    const points = Float32Array.from(
      group.points.flatMap((p) => [...skin.positions.subarray(3 * p, 3 * p + 3)]),
    );
    for (let count = 1; count <= MOST_COUNT; count++) {
      const fit = fitCapsules(points, { count, margin, most: MOST_POINTS });
      if (fit && fit.overhang <= (count === 1 ? MOST_SINGLE_OVERHANG : MOST_OVERHANG))
        candidates.push(toCandidate(pose, group, fit, { plane: other ? plane : null, margin, kinds }));
      yield (g + count / MOST_COUNT) / groups.length;
      if (fit && fit.coverage >= ENOUGH_COVERAGE && fit.overhang <= ENOUGH_OVERHANG) break;
    }
  }
  return candidates;
}

function nameJoints(nodes: readonly number[]): string {
  return [...nodes].sort((p, q) => p - q).join('+');
}

function isTouched({ points }: SkinGroup, areas: Float32Array, reach: Float32Array): boolean {
  let all = 0;
  let touched = 0;
  for (const p of points) {
    all += areas[p]!;
    touched += areas[p]! * reach[p]!;
  }
  return touched > LEAST_REACH * all;
}

interface ShapeOptions {
  /** That the other side is made about; null to leave it out. */
  plane: MirrorPlane | null;
  margin: number;
  kinds: readonly SuggestedKind[];
}

/** A ball stands for a capsule that is no longer than this share of its radius, where balls are wanted. */
const SHORT = 0.5;

/** A fitted capsule as the simplest kind that may be used for it. */
function simplify(row: ArrayLike<number>, kinds: readonly SuggestedKind[]): RoundShape {
  const [ax, ay, az, radiusA, bx, by, bz, radiusB] = Array.from(row) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [a, b]: MutableVector3[] = [
    [ax, ay, az],
    [bx, by, bz],
  ];
  const mean = (radiusA + radiusB) / 2;
  const isShort = distanceBetween(a!, b!) < SHORT * mean;
  const isOnlyBalls = kinds.every((kind) => kind === 'sphere');
  if (isOnlyBalls || (isShort && kinds.includes('sphere'))) {
    const middle: MutableVector3 = [(ax + bx) / 2, (ay + by) / 2, (az + bz) / 2];
    return { kind: 'sphere', a: middle, b: [...middle], radiusA: mean, radiusB: mean };
  }
  if (kinds.includes('taperedCapsule')) return { kind: 'taperedCapsule', a: a!, b: b!, radiusA, radiusB };
  return { kind: 'capsule', a: a!, b: b!, radiusA: mean, radiusB: mean };
}

function toCandidate(
  pose: Pose,
  group: SkinGroup,
  fit: CapsuleFit,
  { plane, margin, kinds }: ShapeOptions,
): Candidate {
  const node = group.joints[0]!;
  const own: PlacedShape[] = [];
  const inverse = new Float64Array(16);
  if (invertAffine(inverse, 0, pose.worldMatrices, 16 * node)) {
    const map = createShapeMap(inverse);
    for (let o = 0; o < fit.rows.length; o += 8) {
      const shape = simplify(fit.rows.subarray(o, o + 8), kinds);
      own.push({ node, margin, shape: getShapeDefinition(shape).carry(shape, map) });
    }
  }
  const others: PlacedShape[] = [];
  if (plane && group.otherJoint !== null) {
    for (const { shape } of own) {
      const carried = carryToJoint(pose, { ...shape, node }, group.otherJoint, toReflection(plane));
      if (!carried) continue;
      const { node: other, ...mirrored } = carried;
      others.push({ node: other, margin, shape: mirrored });
    }
  }
  return { key: nameJoints(group.joints), bodies: [...own, ...others] };
}
