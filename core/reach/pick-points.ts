import { type EdgeTable, type Neighbours, NO_TRIANGLE } from '../mesh/index.ts';

/** Sets of points as flags, non-zero for those in it. [n] */
export type PointSet = Uint8Array;

/** With everything that an edge joins to the set. */
export function growPoints({ start, list }: Neighbours, set: PointSet): PointSet {
  return set.map((isIn, i) => {
    if (isIn) return 1;
    for (let k = start[i]!; k < start[i + 1]!; k++) if (set[list[k]!]) return 1;
    return 0;
  });
}

/** Without everything that an edge joins to what is not in the set. */
export function shrinkPoints(neighbours: Neighbours, set: PointSet): PointSet {
  return invertPoints(growPoints(neighbours, invertPoints(set)));
}

/** Picks what is not picked, and the other way round. @param set - Non-zero: picked, [welded vertices]. @returns A new set. */
export function invertPoints(set: PointSet): PointSet {
  return set.map((isIn) => (isIn ? 0 : 1));
}

/** Points whose max distance is 0. */
export function pickHeld(maxDistances: Float32Array): PointSet {
  return Uint8Array.from(maxDistances, (value) => (value === 0 ? 1 : 0));
}

/** The connected pieces that have a point of the set. */
export function pickConnected(neighbours: Neighbours, set: PointSet): PointSet {
  const found = set.slice();
  const open = Array.from(set.keys()).filter((i) => set[i]);
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    for (let k = neighbours.start[i]!; k < neighbours.start[i + 1]!; k++) {
      const j = neighbours.list[k]!;
      if (found[j]) continue;
      found[j] = 1;
      open.push(j);
    }
  }
  return found;
}

/** The open border that a point lies on: all points joined to it by border edges. Empty when it lies on none. */
export function findBorderLoop({ edges, edgeCount, triangles }: EdgeTable, point: number): number[] {
  const along = new Map<number, number[]>();
  const join = (a: number, b: number): void => {
    const others = along.get(a);
    if (others) others.push(b);
    else along.set(a, [b]);
  };
  for (let e = 0; e < edgeCount; e++) {
    if (triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    join(edges[2 * e]!, edges[2 * e + 1]!);
    join(edges[2 * e + 1]!, edges[2 * e]!);
  }
  if (!along.has(point)) return [];
  const found = new Set([point]);
  for (const p of found) for (const q of along.get(p)!) found.add(q);
  return [...found];
}

/** A loop goes on straight; turning more than this (cosine of 50°) it ends. */
const LEAST_STRAIGHT = 0.64;

/**
 * The row of edges that goes on from one edge as straight as it can, both ways, until it closes, turns sharply or meets
 * a border.
 *
 * @param positions - [n, 3].
 */
export function findEdgeLoop(
  positions: Float32Array,
  neighbours: Neighbours,
  a: number,
  b: number,
): number[] {
  const loop = [a, b];
  const seen = new Set(loop);
  if (walkStraight(positions, neighbours, loop, seen)) return loop;
  loop.reverse();
  walkStraight(positions, neighbours, loop, seen);
  return loop;
}

/** Adds to the end of a row of points. @returns True when it closed. */
function walkStraight(
  p: Float32Array,
  { start, list }: Neighbours,
  loop: number[],
  seen: Set<number>,
): boolean {
  for (;;) {
    const last = loop[loop.length - 1]!;
    const before = loop[loop.length - 2]!;
    let best = -1;
    let straightest = LEAST_STRAIGHT;
    for (let k = start[last]!; k < start[last + 1]!; k++) {
      const next = list[k]!;
      if (next === before) continue;
      const straight = measureStraight(p, before, last, next);
      if (straight <= straightest) continue;
      straightest = straight;
      best = next;
    }
    if (best < 0) return false;
    if (seen.has(best)) return best === loop[0];
    seen.add(best);
    loop.push(best);
  }
}

/** Cosine of the turn at b on the way from a to c. */
function measureStraight(p: Float32Array, a: number, b: number, c: number): number {
  let [dot, uu, vv] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const u = p[3 * b + k]! - p[3 * a + k]!;
    const v = p[3 * c + k]! - p[3 * b + k]!;
    dot += u * v;
    uu += u * u;
    vv += v * v;
  }
  return uu > 0 && vv > 0 ? dot / Math.sqrt(uu * vv) : -1;
}
