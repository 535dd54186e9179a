import type { CompiledGarment } from './compiled-garment.ts';
import { INERT } from './kernel/assembly/constants.ts';
import type { SolverState } from './solver-state.ts';

/** No edge ends a frame longer than its rest length times the stretch cap and this much more. */
export const OVER_CAP = 0.5;
const ROUNDS = 5;
const SWEEPS = 6;
/** Edges from this share of the limit on are looked at: shortening others may make them too long. */
const NEAR_LIMIT = 0.75;

/** How often all edges were looked at, and how many of the long ones. */
export interface StretchLooks {
  lists: number;
  edges: number;
}

/**
 * Brings edges back that a frame left far longer than cloth can be: between bodies or garments that part, and at points that weigh next to
 * nothing, contacts win against threads. Ends move by their inverse masses, stay within their max distance, and stop parting.
 *
 * @param stretchCap - Of the fabric. @param list - See `listLong`.
 */
export function limitStretch(
  garment: CompiledGarment,
  state: SolverState,
  stretchCap: number,
  list: (most: number) => ArrayLike<number>,
): StretchLooks {
  const { stretchPairs: pairs, stretchRest } = garment;
  const most = stretchCap + OVER_CAP;
  const looks = { lists: 0, edges: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    const candidates = list(NEAR_LIMIT * most);
    looks.lists++;
    let isAnyLong = false;
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      looks.edges += candidates.length;
      let isDone = true;
      for (let k = 0; k < candidates.length; k++) {
        const s = candidates[k]!;
        if (shorten(state, 4 * pairs[2 * s]!, 4 * pairs[2 * s + 1]!, most * stretchRest[s]!)) isDone = false;
      }
      if (isDone) break;
      isAnyLong = true;
    }
    if (!isAnyLong) break;
  }
  return looks;
}

/** Pairs that are longer than so many times their length at rest. */
export function listLong(
  { stretchPairs: pairs, stretchRest }: CompiledGarment,
  { positions: x, pairSum }: SolverState,
  most: number,
): number[] {
  const long: number[] = [];
  const squaredMost = most * most;
  for (let s = 0; s < stretchRest.length; s++) {
    const a = 4 * pairs[2 * s]!;
    const b = 4 * pairs[2 * s + 1]!;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const rest = stretchRest[s]!;
    if (dx * dx + dy * dy + dz * dz > squaredMost * rest * rest && pairSum[s] !== INERT) long.push(s);
  }
  return long;
}

/** @returns Whether the edge was too long. */
function shorten(state: SolverState, a: number, b: number, limit: number): boolean {
  const { positions: x, velocities: v, inverseMasses } = state;
  const squared = squaredLength(x, a, b);
  if (squared <= limit * limit) return false;
  const wa = inverseMasses[a >> 2]!;
  const wb = inverseMasses[b >> 2]!;
  if (wa + wb === 0) return false;
  const length = Math.sqrt(squared);
  const share = (length - limit) / (length * (wa + wb));
  let parting = 0;
  for (let k = 0; k < 3; k++)
    parting += ((v[b + k]! - v[a + k]!) * (x[b + k]! - x[a + k]!)) / (length * (wa + wb));
  for (let k = 0; k < 3; k++) {
    const way = x[b + k]! - x[a + k]!;
    x[a + k] = x[a + k]! + wa * share * way;
    x[b + k] = x[b + k]! - wb * share * way;
    if (parting <= 0) continue;
    v[a + k] = v[a + k]! + (wa * parting * way) / length;
    v[b + k] = v[b + k]! - (wb * parting * way) / length;
  }
  holdWithinReach(state, a);
  holdWithinReach(state, b);
  return true;
}

/** Max distance is kept to the last. */
function holdWithinReach({ positions: x, nextTargets, reach }: SolverState, o: number): void {
  const most = reach[o >> 2]!;
  const length = Math.sqrt(
    (x[o]! - nextTargets[o]!) ** 2 +
      (x[o + 1]! - nextTargets[o + 1]!) ** 2 +
      (x[o + 2]! - nextTargets[o + 2]!) ** 2,
  );
  if (length <= most || length === 0) return;
  for (let k = 0; k < 3; k++) {
    const target = nextTargets[o + k]!;
    x[o + k] = target + ((x[o + k]! - target) * most) / length;
  }
}

function squaredLength(x: Float32Array, a: number, b: number): number {
  return (x[b]! - x[a]!) ** 2 + (x[b + 1]! - x[a + 1]!) ** 2 + (x[b + 2]! - x[a + 2]!) ** 2;
}
