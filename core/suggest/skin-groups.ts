import { mirrorName } from '../rig/index.ts';
import type { BodySkin } from './body-skin.ts';

/** Skin that one or more bodies are fitted to. */
export interface SkinGroup {
  /** Joints that it is of, that with most skin first: it carries the bodies. */
  joints: readonly number[];
  points: readonly number[];
  /** Joint of the same skin on the other side; null in the middle, or without one. */
  otherJoint: number | null;
}

/** Joints with less than this share of all skin go with the joint above them: fingers with the hand. */
const SMALL_SHARE = 0.004;
/** Fewer points than this say nothing of a shape. */
const LEAST_POINTS = 24;

/**
 * Skin by joints: of each joint with skin of its own, and of each two that follow one another. What little hangs on small joints
 * belongs to the joint above.
 */
export function groupSkin(skin: BodySkin): SkinGroup[] {
  const { character, areas, joints, sidePairs } = skin;
  const { names, parents } = character.skeleton;
  const owned = gatherOwned(skin);
  const total = areas.reduce((sum, area) => sum + area, 0);
  const areaOf = (points: readonly number[]): number => points.reduce((sum, p) => sum + areas[p]!, 0);
  const isLarge = new Set(
    [...owned].filter(([, points]) => areaOf(points) >= SMALL_SHARE * total).map(([node]) => node),
  );
  const findOwner = (node: number): number => {
    for (let at = node; at >= 0; at = parents[at]!) if (isLarge.has(at)) return at;
    return node;
  };
  const pointsOf = new Map<number, number[]>();
  for (let p = 0; p < joints.length; p++) {
    if (areas[p] === 0 || joints[p]! < 0) continue;
    const owner = findOwner(joints[p]!);
    if (!pointsOf.has(owner)) pointsOf.set(owner, []);
    pointsOf.get(owner)!.push(p);
  }
  const groups: SkinGroup[] = [];
  const add = (nodes: readonly number[], points: readonly number[]): void => {
    if (points.length < LEAST_POINTS) return;
    const carriers = [...nodes].sort((p, q) => areaOf(pointsOf.get(q)!) - areaOf(pointsOf.get(p)!));
    const other = mirrorName(names[carriers[0]!]!, sidePairs);
    const otherJoint = other === null ? -1 : names.indexOf(other);
    groups.push({
      joints: carriers,
      points,
      otherJoint: otherJoint < 0 ? null : otherJoint,
    });
  };
  for (const [node, points] of pointsOf) {
    add([node], points);
    const above = parents[node]! < 0 ? -1 : findOwner(parents[node]!);
    const others = pointsOf.get(above);
    // The middle with one side of two would be lopsided.
    const isAlike =
      above >= 0 &&
      (mirrorName(names[node]!, sidePairs) === null) === (mirrorName(names[above]!, sidePairs) === null);
    if (others && above !== node && isAlike) add([node, above], [...points, ...others]);
  }
  return groups;
}

function gatherOwned({ joints, areas }: BodySkin): Map<number, number[]> {
  const owned = new Map<number, number[]>();
  joints.forEach((node, p) => {
    if (node < 0 || areas[p] === 0) return;
    if (!owned.has(node)) owned.set(node, []);
    owned.get(node)!.push(p);
  });
  return owned;
}
