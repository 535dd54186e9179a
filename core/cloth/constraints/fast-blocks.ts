import type { FrameNumbers } from '../frame-numbers.ts';
import { MEETING_SLACK } from '../kernel/assembly/constants.ts';
import type { SolverState, SurfaceState } from '../solver-state.ts';

/** Points of a block: they lie along a curve that fills space, and so near each other. */
export const BLOCK_POINTS = 16;
/** The same of a body, whose points are few and far apart. */
const BODY_BLOCK_POINTS = 4;
/** Cloth and body that may meet are fast when they go so much of the body's edges against each other in a frame. */
const FAST_SHARE = 0.5;

/** What a block of points sweeps over in a frame. */
interface Swept {
  low: [number, number, number];
  high: [number, number, number];
  /** Mean way of its points, m, and the farthest that one of them goes otherwise. */
  way: [number, number, number];
  spread: number;
}

/**
 * Notes which blocks of points may meet a body that moves fast against them in this frame: for them it is to be looked for anew in every
 * substep, since the nearest triangle becomes another.
 *
 * @returns Whether there are any.
 */
export function noteFastBlocks(
  { positions: x, velocities: v, inverseMasses }: SolverState,
  surface: SurfaceState,
  pointCount: number,
  frame: FrameNumbers,
): boolean {
  const { fastBlocks, from, to, spacing, distance } = surface;
  fastBlocks.fill(0);
  if (!surface.isBody) return false;
  const bodies: Swept[] = [];
  for (let first = 0; first < surface.pointCount; first += BODY_BLOCK_POINTS)
    bodies.push(
      sweep(first, Math.min(surface.pointCount, first + BODY_BLOCK_POINTS), from, (o) => to[o]! - from[o]!)!,
    );
  const near = distance + MEETING_SLACK;
  let isAny = false;
  for (let first = 0; first < pointCount; first += BLOCK_POINTS) {
    const last = Math.min(pointCount, first + BLOCK_POINTS);
    const isFree = (i: number): boolean => inverseMasses[i] !== 0;
    const cloth = sweep(first, last, x, (o) => frame.seconds * v[o]!, isFree);
    if (!cloth) continue;
    const isFast = bodies.some(
      (body) => isNear(cloth, body, near) && measureAgainst(cloth, body) > FAST_SHARE * spacing,
    );
    if (!isFast) continue;
    fastBlocks[first / BLOCK_POINTS] = 1;
    isAny = true;
  }
  return isAny;
}

/** Null for a block without any points that count. */
function sweep(
  first: number,
  last: number,
  rows: Float32Array,
  wayOf: (o: number) => number,
  counts: (i: number) => boolean = () => true,
): Swept | null {
  const swept: Swept = {
    low: [Infinity, Infinity, Infinity],
    high: [-Infinity, -Infinity, -Infinity],
    way: [0, 0, 0],
    spread: 0,
  };
  const { low, high, way } = swept;
  let count = 0;
  for (let i = first; i < last; i++) {
    if (!counts(i)) continue;
    count++;
    for (let k = 0; k < 3; k++) {
      const [at, by] = [rows[4 * i + k]!, wayOf(4 * i + k)];
      low[k] = Math.min(low[k]!, at, at + by);
      high[k] = Math.max(high[k]!, at, at + by);
      way[k] = way[k]! + by;
    }
  }
  if (count === 0) return null;
  for (let k = 0; k < 3; k++) way[k] = way[k]! / count;
  for (let i = first; i < last; i++) {
    if (!counts(i)) continue;
    const [dx, dy, dz] = [0, 1, 2].map((k) => wayOf(4 * i + k) - way[k]!) as [number, number, number];
    swept.spread = Math.max(swept.spread, Math.sqrt(dx * dx + dy * dy + dz * dz));
  }
  return swept;
}

function isNear(p: Swept, q: Swept, distance: number): boolean {
  return p.low.every((low, k) => low - distance <= q.high[k]! && q.low[k]! - distance <= p.high[k]!);
}

/** The farthest that points of two blocks may go against each other, m. */
function measureAgainst(p: Swept, q: Swept): number {
  const [dx, dy, dz] = [0, 1, 2].map((k) => p.way[k]! - q.way[k]!) as [number, number, number];
  return Math.sqrt(dx * dx + dy * dy + dz * dz) + p.spread + q.spread;
}
