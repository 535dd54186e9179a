import type { FrameNumbers } from '../frame-numbers.ts';
import { SELF_SEARCH } from '../kernel/assembly/constants.ts';
import { SELF_CANDIDATES, type SolverState } from '../solver-state.ts';
import { buildPointHash, listCellsAround, squaredDistance } from './point-hash.ts';

/**
 * Pairs of points of one garment that may come too near each other in this frame. Neighbours that lie nearer than the
 * distance at rest (along the cloth, or as the two sides of a hem) are not told apart: their threads hold them.
 *
 * @param rest - [n, 4]. @returns Number of pairs in `state.selfPairs`.
 */
export function findSelfPairs(
  state: SolverState,
  rest: Float32Array,
  pointCount: number,
  { selfDistance }: FrameNumbers,
): number {
  const { positions: x, inverseMasses, hashStart, hashList, selfPairs } = state;
  const reach = SELF_SEARCH * selfDistance;
  const reachSquared = reach * reach;
  const restSquared = selfDistance * selfDistance;
  buildPointHash(state, x, pointCount, reach);
  let count = 0;
  const near: number[] = [];
  for (let i = 0; i < pointCount; i++) {
    near.length = 0;
    for (const cell of listCellsAround(x, i, reach)) {
      for (let k = hashStart[cell]!; k < hashStart[cell + 1]!; k++) {
        const j = hashList[k]!;
        // Lowest first within a cell: the rest of it was or will be met from the other side.
        if (j >= i) break;
        if (inverseMasses[i]! + inverseMasses[j]! === 0) continue;
        if (squaredDistance(x, i, x, j) >= reachSquared || squaredDistance(rest, i, rest, j) < restSquared)
          continue;
        near.push(j);
      }
    }
    near.sort((p, q) => p - q);
    for (const j of near.slice(0, SELF_CANDIDATES)) {
      selfPairs[2 * count] = i;
      selfPairs[2 * count + 1] = j;
      count++;
    }
  }
  return count;
}

/** Parts the pairs that came too near, and takes from their sliding what friction allows. */
export function solveSelf(
  state: SolverState,
  { selfDistance, friction, h }: FrameNumbers,
  count: number,
): void {
  const { positions: x, velocities: v, predicted, inverseMasses, selfPairs } = state;
  const leastSquared = selfDistance * selfDistance;
  for (let p = 0; p < count; p++) {
    const i = selfPairs[2 * p]!;
    const j = selfPairs[2 * p + 1]!;
    const a = 4 * i;
    const b = 4 * j;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const squared = dx * dx + dy * dy + dz * dz;
    if (squared >= leastSquared || squared === 0) continue;
    const length = Math.sqrt(squared);
    const wa = inverseMasses[i]!;
    const wb = inverseMasses[j]!;
    const depth = selfDistance - length;
    const nx = dx / length;
    const ny = dy / length;
    const nz = dz / length;
    // How b moved against a in this substep.
    const mx = dx - (predicted[b]! - predicted[a]! - h * (v[b]! - v[a]!));
    const my = dy - (predicted[b + 1]! - predicted[a + 1]! - h * (v[b + 1]! - v[a + 1]!));
    const mz = dz - (predicted[b + 2]! - predicted[a + 2]! - h * (v[b + 2]! - v[a + 2]!));
    const normalDisplacement = mx * nx + my * ny + mz * nz;
    const tx = mx - normalDisplacement * nx;
    const ty = my - normalDisplacement * ny;
    const tz = mz - normalDisplacement * nz;
    const slide = Math.sqrt(tx * tx + ty * ty + tz * tz);
    const kept = slide > 0 ? Math.min(1, (friction * depth) / slide) : 0;
    const ux = (depth * nx - kept * tx) / (wa + wb);
    const uy = (depth * ny - kept * ty) / (wa + wb);
    const uz = (depth * nz - kept * tz) / (wa + wb);
    x[a] = x[a]! - wa * ux;
    x[a + 1] = x[a + 1]! - wa * uy;
    x[a + 2] = x[a + 2]! - wa * uz;
    x[b] = x[b]! + wb * ux;
    x[b + 1] = x[b + 1]! + wb * uy;
    x[b + 2] = x[b + 2]! + wb * uz;
  }
}
