import type { Skeleton } from './character.ts';

type Hierarchy = Pick<Skeleton, 'parents'>;

/** A joint in the tree of some joints. */
export interface JointOfTree {
  node: number;
  /** How many of the joints are above it. */
  depth: number;
}

/** Some joints as they hang: each before those below it, and these right after it; those side by side in the order of the skeleton. */
export function listJointTree({ parents }: Hierarchy, joints: readonly number[]): JointOfTree[] {
  const listed = new Set(joints);
  const below = new Map<number, number[]>();
  for (const node of [...listed].sort((p, q) => p - q)) {
    let above = parents[node]!;
    while (above >= 0 && !listed.has(above)) above = parents[above]!;
    below.set(above, [...(below.get(above) ?? []), node]);
  }
  const list = (above: number, depth: number): JointOfTree[] =>
    (below.get(above) ?? []).flatMap((node) => [{ node, depth }, ...list(node, depth + 1)]);
  return list(-1, 0);
}

/** Of some joints one and all that hang on it. */
export function listJointsBelow({ parents }: Hierarchy, joints: readonly number[], top: number): number[] {
  return joints.filter((joint) => {
    for (let at = joint; at >= 0; at = parents[at]!) if (at === top) return true;
    return false;
  });
}
