import { DisjointSets } from '../math/index.ts';
import { type CheckedMesh, LEAST_PAIRED, pairShells } from './health/index.ts';
import { measureDistance } from './measure-distance.ts';
import { MinHeap } from './min-heap.ts';
import { buildNeighbours, type Neighbours } from './neighbours.ts';

/** Whether a mesh has an outer and an inner side, or could have. */
export type SidesVerdict = 'one' | 'two' | 'unsure';

/** The way over the surface between the two sides is longer than so many thicknesses, but for what lies along the rim. */
const FEW_THICKNESSES = 5;
/** A piece of which a larger share of its pairs are no farther than that around is no garment of two sides; and one of less than the second is surely one. */
const MOST_AROUND = 0.4;
const SURELY_AROUND = 0.75;
/** Fewer than this share of the pairs off the rim are too few to tell; and what stands for the share then. */
const LEAST_WITHIN = 0.1;
const UNKNOWN = 0.5;
/** So many pairs of a piece are looked at. */
const MOST_LOOKED_AT = 400;

/**
 * Tells garments of two sides from tubes and closed bodies whose opposite walls are as near to each other: there the way around is no
 * longer than a few thicknesses; between the two sides of a garment it leads over the rim. Ours.
 *
 * @param pairs - Of `pairShells`. @returns the verdict, and the partners of points that surely lie on one of two sides, -1: none.
 */
export function judgeSides(
  mesh: CheckedMesh,
  pairs: Int32Array = pairShells(mesh),
): { verdict: SidesVerdict; partner: Int32Array } {
  const { pointCount, table } = mesh;
  const least = LEAST_PAIRED * pointCount;
  if (countPaired(pairs) < least) return { verdict: 'one', partner: new Int32Array(pointCount).fill(-1) };
  const pieces = new DisjointSets(pointCount);
  for (let e = 0; e < table.edgeCount; e++) pieces.join(table.edges[2 * e]!, table.edges[2 * e + 1]!);
  const partner = pairs.slice();
  let isDoubtful = false;
  const neighbours = buildNeighbours(table, pointCount);
  for (const points of listPaired(pairs, pieces)) {
    const around = measureAround(mesh, neighbours, pairs, points);
    if (around <= MOST_AROUND) continue;
    if (around < SURELY_AROUND) isDoubtful = true;
    for (const p of points) partner[p] = -1;
  }
  // Of a pair that is given up on one side nothing is left on the other.
  partner.forEach((q, p) => {
    if (q >= 0 && partner[q] !== p) partner[p] = -1;
  });
  const verdict = countPaired(partner) >= least ? 'two' : isDoubtful ? 'unsure' : 'one';
  return { verdict, partner };
}

/** How many points have a partner. */
export function countPaired(partner: Int32Array): number {
  return partner.reduce((sum, q) => sum + (q >= 0 ? 1 : 0), 0);
}

/** Paired points by piece. */
function listPaired(pairs: Int32Array, pieces: DisjointSets): number[][] {
  const listed = new Map<number, number[]>();
  pairs.forEach((q, p) => {
    if (q < 0) return;
    const piece = pieces.find(p);
    const list = listed.get(piece);
    if (list) list.push(p);
    else listed.set(piece, [p]);
  });
  return [...listed.values()];
}

/**
 * Share of some paired points whose partner is no farther than a few thicknesses over the surface. Points on the rim, one or two
 * edges from their partners, tell nothing; where there are no others it could be either.
 */
function measureAround(
  mesh: CheckedMesh,
  neighbours: Neighbours,
  pairs: Int32Array,
  points: readonly number[],
): number {
  const within = points.filter((p) => !isOnRim(neighbours, p, pairs[p]!));
  if (within.length < LEAST_WITHIN * points.length) return UNKNOWN;
  const step = Math.max(1, Math.floor(within.length / MOST_LOOKED_AT));
  let [looked, near] = [0, 0];
  for (let i = 0; i < within.length; i += step) {
    looked++;
    if (isNearOver(mesh, neighbours, within[i]!, pairs[within[i]!]!)) near++;
  }
  return near / looked;
}

/** Whether two points are joined by an edge, or have a neighbour in common. */
function isOnRim({ start, list }: Neighbours, p: number, q: number): boolean {
  const ofP = list.subarray(start[p]!, start[p + 1]!);
  const ofQ = list.subarray(start[q]!, start[q + 1]!);
  return ofP.includes(q) || ofP.some((next) => ofQ.includes(next));
}

/** Whether the way between two points along edges is at most a few times that through the air. */
function isNearOver(
  { pointPositions: x }: CheckedMesh,
  { start, list }: Neighbours,
  from: number,
  to: number,
): boolean {
  const most = FEW_THICKNESSES * measureDistance(x, from, to);
  const front = new MinHeap();
  const ways = new Map<number, number>([[from, 0]]);
  front.push(0, from);
  for (let at = front.pop(); at >= 0; at = front.pop()) {
    if (at === to) return true;
    for (let i = start[at]!; i < start[at + 1]!; i++) {
      const next = list[i]!;
      const way = ways.get(at)! + measureDistance(x, at, next);
      if (way > most || way >= (ways.get(next) ?? Number.POSITIVE_INFINITY)) continue;
      ways.set(next, way);
      front.push(way, next);
    }
  }
  return false;
}
