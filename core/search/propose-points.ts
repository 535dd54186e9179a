import { createRandom } from '../math/index.ts';
import { Evolution, type TriedPoint } from './evolution.ts';
import { haltonPoint } from './halton.ts';

export interface SearchPlan {
  /** Where everything is now: tried first. Each 0 to 1. [dimensions] */
  start: readonly number[];
  /** Points in all. */
  runs: number;
  seed: number;
}

/** Share of the points that are spread evenly before it goes where they were good. */
const EVEN_SHARE = 0.25;
const LEAST_EVEN = 8;
/** Of those that were spread evenly the best begin the strategy; how far so many of them lie apart says how far it steps at first. */
const PARENTS = 4;
const BEST_SHARE = 0.25;
const FIRST_SIGMA = 0.2;

/**
 * The points that can be tried next, side by side: where everything is, points that fill the cube evenly, and then one generation of an
 * evolution strategy after another. The same scores give the same points, however they were made, so that a search that was broken off
 * goes on from what is known of it.
 *
 * @param tried - All that were proposed before, in their order, with their scores. @returns None when there are enough.
 */
export function proposePoints(plan: SearchPlan, tried: readonly TriedPoint[]): number[][] {
  const { start, runs, seed } = plan;
  const random = createRandom(seed);
  const shift = start.map(() => random());
  const even = Math.min(runs, Math.max(LEAST_EVEN, Math.ceil(EVEN_SHARE * runs)));
  if (tried.length < even) {
    const all = [[...start], ...Array.from({ length: even - 1 }, (_, n) => haltonPoint(n, shift))];
    return all.slice(tried.length);
  }
  if (tried.length >= runs) return [];
  const first = [...tried.slice(0, even)].sort((p, q) => p.score - q.score);
  const good = first.slice(0, Math.max(2, Math.ceil(BEST_SHARE * even)));
  const evolution = new Evolution(first.slice(0, PARENTS), Math.min(FIRST_SIGMA, spreadOf(good)));
  const normal = createNormal(random);
  // What was asked for before is asked again, so that the numbers that follow are the same.
  for (let at = even; ; at += evolution.size) {
    const generation = evolution.ask(normal);
    const known = tried.slice(at, at + evolution.size);
    if (known.length < evolution.size) return generation.slice(known.length, Math.max(0, runs - at));
    evolution.tell(known);
  }
}

/** How far points lie from the first of them, mean over the dimensions. */
function spreadOf(points: readonly TriedPoint[]): number {
  const [first, ...others] = points;
  const distances = others.map(({ point }) =>
    Math.sqrt(point.reduce((sum, x, i) => sum + (x - first!.point[i]!) ** 2, 0) / point.length),
  );
  return Math.max(0.05, distances.reduce((sum, distance) => sum + distance, 0) / (distances.length || 1));
}

/**
 * Normally distributed numbers from even ones.
 *
 * Reference: G. Box, M. Muller, *A Note on the Generation of Random Normal Deviates*, Annals of Mathematical Statistics 29, 1958.
 */
function createNormal(random: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}
