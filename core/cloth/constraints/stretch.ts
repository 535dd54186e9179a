import { LANES, MOST_CHAIN_ROWS } from '../compile/pack-chains.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import { INERT } from '../kernel/assembly/constants.ts';
import type { SolverState } from '../solver-state.ts';
import { giveWay } from './give-way.ts';

/** Pairs shorter than this (m) have no direction. */
const LEAST_LENGTH = 1e-9;

/**
 * One pass over the stretch pairs, chain after chain, each solved directly: the multipliers of all its pairs at once, from a
 * tridiagonal system. Pair after pair, as extended position-based dynamics goes about it, a pass adds a compliance of about
 * (wₐ + w_b) h² to every pair, which is most of what a fine mesh would feel.
 *
 * With d = x_b − x_a of length l and μ = λ / l a row is
 * −w_a (d·d′) μ′ + (w_a + w_b + α̃) l² μ − w_b (d·d″) μ″ = −l (l − r) − α̃ l λ₀; then x_a moves by −w_a μ d, x_b by w_b μ d.
 * λ₀ is what earlier passes of the substep have given.
 *
 * References: M. Macklin, M. Müller, N. Chentanez, *XPBD: position-based simulation of compliant constrained dynamics*,
 * MIG 2016; C. Deul, T. Kugelstadt, M. Weiler, J. Bender, *Direct position-based solver for stiff rods*, Computer Graphics
 * Forum 2018. That an irregular mesh is laid into chains, and what its kinks add is taken off, is ours.
 */
export function solveStretch(state: SolverState, frame: FrameNumbers, pass: number): void {
  const { pairBatches } = state;
  for (let batch = 0; batch + 1 < pairBatches.length; batch++) {
    for (let lane = 0; lane < LANES; lane++) {
      solveLane(state, frame, pass, LANES * pairBatches[batch]! + lane, LANES * pairBatches[batch + 1]!);
    }
  }
}

/**
 * Of the rows of a lane: their directions, [rows, 3]; and what forward elimination leaves of each over its diagonal: the right
 * side, and the coupling to the row below. Reused.
 */
const directions = new Float64Array(3 * MOST_CHAIN_ROWS);
const right = new Float64Array(MOST_CHAIN_ROWS);
const toBelow = new Float64Array(MOST_CHAIN_ROWS);

/** The chains of a lane, as one system: between them nothing is coupled. @param first, end - Slots, LANES apart. */
function solveLane(state: SolverState, frame: FrameNumbers, pass: number, first: number, end: number): void {
  const rows = Math.ceil((end - first) / LANES);
  eliminate(state, pass, first, end);
  let below = 0;
  for (let row = rows - 1; row >= 0; row--) {
    const s = first + LANES * row;
    const multiplier = right[row]! + toBelow[row]! * below;
    below = multiplier;
    if (state.pairSum[s]! >= INERT) continue;
    const [dx, dy, dz] = [directions[3 * row]!, directions[3 * row + 1]!, directions[3 * row + 2]!];
    movePair(state, s, multiplier * dx, multiplier * dy, multiplier * dz);
    state.pairMultipliers[s] = pass > 0 ? state.pairMultipliers[s]! + multiplier : multiplier;
    if (frame.givesWay && pass + 1 === frame.iterations)
      giveWay(state, frame, s, Math.sqrt(dx * dx + dy * dy + dz * dz));
  }
}

/**
 * The diagonal that is left of a row is written as a sum of what is positive: the difference from which it comes loses all its
 * digits where a point between two heavy ones has hardly any mass.
 */
function eliminate(state: SolverState, pass: number, first: number, end: number): void {
  const { positions: x, pairs, pairRest, pairSoftness, pairSum, pairCoupling, pairEndMass } = state;
  // Of the row above: its direction, squared length, diagonal without the mass of the point between, and diagonal.
  let [px, py, pz, squaredAbove, ownAbove, diagonalAbove, rightAbove] = [0, 0, 0, 0, 0, 1, 0];
  for (let s = first, row = 0; s < end; s += LANES, row++) {
    const [a, b] = [4 * pairs[2 * s]!, 4 * pairs[2 * s + 1]!];
    const [dx, dy, dz] = [x[b]! - x[a]!, x[b + 1]! - x[a + 1]!, x[b + 2]! - x[a + 2]!];
    directions[3 * row] = dx;
    directions[3 * row + 1] = dy;
    directions[3 * row + 2] = dz;
    const squared = Math.max(dx * dx + dy * dy + dz * dz, LEAST_LENGTH ** 2);
    const along = dx * px + dy * py + dz * pz;
    const mass = pairCoupling[s]!;
    const crossed = Math.max(squared * squaredAbove - along * along, 0);
    const own = pairSum[s]! * squared + (mass * (squared * ownAbove + mass * crossed)) / diagonalAbove;
    const diagonal = own + pairEndMass[s]! * squared;
    const coupling = mass * along;
    if (row > 0) toBelow[row - 1] = coupling / diagonalAbove;
    const given = pass > 0 ? pairSoftness[s]! * squared * state.pairMultipliers[s]! : 0;
    right[row] = (pairRest[s]! * Math.sqrt(squared) - squared - given + coupling * rightAbove) / diagonal;
    [px, py, pz, squaredAbove, ownAbove] = [dx, dy, dz, squared, own];
    [diagonalAbove, rightAbove] = [diagonal, right[row]!];
  }
}

function movePair(
  { positions: x, pairs, inverseMasses }: SolverState,
  s: number,
  dx: number,
  dy: number,
  dz: number,
): void {
  const a = pairs[2 * s]!;
  const b = pairs[2 * s + 1]!;
  const [wa, wb] = [inverseMasses[a]!, inverseMasses[b]!];
  x[4 * a] = x[4 * a]! - wa * dx;
  x[4 * a + 1] = x[4 * a + 1]! - wa * dy;
  x[4 * a + 2] = x[4 * a + 2]! - wa * dz;
  x[4 * b] = x[4 * b]! + wb * dx;
  x[4 * b + 1] = x[4 * b + 1]! + wb * dy;
  x[4 * b + 2] = x[4 * b + 2]! + wb * dz;
}

/** Takes a share of the speed at which the ends of each pair part or meet, once a frame. */
export function dampEdges(state: SolverState): void {
  const { positions: x, velocities: v, pairs, pairDampA, pairDampB } = state;
  for (let s = 0; s < pairDampA.length; s++) {
    const a = 4 * pairs[2 * s]!;
    const b = 4 * pairs[2 * s + 1]!;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const lengthSquared = dx * dx + dy * dy + dz * dz;
    const parting =
      ((v[b]! - v[a]!) * dx + (v[b + 1]! - v[a + 1]!) * dy + (v[b + 2]! - v[a + 2]!) * dz) /
      (lengthSquared > LEAST_LENGTH ** 2 ? lengthSquared : LEAST_LENGTH ** 2);
    const pa = parting * pairDampA[s]!;
    const pb = parting * pairDampB[s]!;
    v[a] = v[a]! + pa * dx;
    v[a + 1] = v[a + 1]! + pa * dy;
    v[a + 2] = v[a + 2]! + pa * dz;
    v[b] = v[b]! - pb * dx;
    v[b + 1] = v[b + 1]! - pb * dy;
    v[b + 2] = v[b + 2]! - pb * dz;
  }
}
