import { BEND_FILTERS, type BendFilter, MOST_BEND_STEPS } from './bend-filter.ts';
import type { Hinges } from './compile/hinges.ts';
import { LANES } from './compile/pack-chains.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { INERT } from './kernel/assembly/constants.ts';
import type { SolverState } from './solver-state.ts';

/**
 * Material numbers into the factors that a step uses. They depend on the fabric, the masses and the length of the
 * substep, and change only with those.
 */

/** What of a point changes the factors around it. [n] each. */
export interface PointFactors {
  /** Points that ride on others: what joins them does nothing. */
  isLining: Uint8Array;
  /** Factors of stiffness and damping. */
  stiffness: Float32Array;
  damping: Float32Array;
}

/**
 * Stiffness of a thread that runs obliquely, N/m: the off-axis modulus of an orthotropic sheet without lateral
 * contraction, 1/E(φ) = cos⁴φ/E₁ + sin⁴φ/E₂ + sin²φ cos²φ/G.
 *
 * @param warpShare - cos²φ, φ the angle to the warp.
 */
export function computeEdgeStiffness(fabric: FabricSettings, warpShare: number): number {
  const weftShare = 1 - warpShare;
  return (
    1 /
    ((warpShare * warpShare) / fabric.stretchWarp +
      (weftShare * weftShare) / fabric.stretchWeft +
      (warpShare * weftShare) / fabric.shearStiffness)
  );
}

/**
 * Compliance that one pass over chains adds to each edge, over its inverse masses and the kink of the mesh. A chain that turns
 * straightens under tension until the chains across hold its corners, which they do a pass late; so it grows with the square
 * of the turns. Found by strips of 2 to 5 cm edges hung under their weight (strips.test.ts).
 */
const KINK_COMPLIANCE = 0.6;
/** Least share of a pair's own compliance that is left when that of the kinks is taken off it. */
const LEAST_COMPLIANCE = 0.25;

/**
 * Factors of the stretch pairs, from the compliance α̃ = 1 / (k h²) of extended position-based dynamics. What the mesh's kinks
 * add by themselves is taken off beforehand, as far as it goes.
 *
 * A pair is as stiff and damped as the mean of the scales at its ends.
 *
 * @param h - Seconds of a substep. @param seconds - Of a frame.
 * @returns share of the fabric's stretch stiffness that is felt on this mesh with these substeps, the mean by area.
 */
export function derivePairs(
  garment: CompiledGarment,
  state: SolverState,
  fabric: FabricSettings,
  { isLining, stiffness: stiffnessScales, damping: dampingScales }: PointFactors,
  h: number,
  seconds: number,
): number {
  const { stretchRest, stretchShape, stretchWarp, stretchPairs, stretchKink } = garment;
  const { inverseMasses } = state;
  const isFirst = new Uint8Array(stretchRest.length / LANES + 1);
  for (const row of garment.stretchBatches) isFirst[row] = 1;
  let heldArea = 0;
  let area = 0;
  for (let s = 0; s < stretchRest.length; s++) {
    const a = stretchPairs[2 * s]!;
    const b = stretchPairs[2 * s + 1]!;
    const wa = inverseMasses[a]!;
    const wb = inverseMasses[b]!;
    const shape = stretchShape[s]!;
    const rest = stretchRest[s]!;
    state.pairLow[s] = rest * (1 - fabric.compressionRange);
    state.pairHigh[s] = rest;
    state.pairRest[s] = Math.max(state.pairRest[s]!, state.pairLow[s]!);
    state.pairEndMass[s] = wb;
    const scale = 0.5 * (stiffnessScales[a]! + stiffnessScales[b]!);
    const isActive = shape > 0 && wa + wb > 0 && scale > 0 && !isLining[a] && !isLining[b];
    const kinks = (KINK_COMPLIANCE * stretchKink * (wa + wb)) / fabric.iterations;
    const own = isActive ? 1 / (scale * computeEdgeStiffness(fabric, stretchWarp[s]!) * shape * h * h) : 0;
    const compliance = Math.max(LEAST_COMPLIANCE * own, own - kinks);
    state.pairSoftness[s] = compliance;
    const above = s - LANES;
    const follows = isActive && !isFirst[Math.floor(s / LANES)] && state.pairSum[above]! < INERT;
    state.pairCoupling[s] = follows ? wa : 0;
    state.pairSum[s] = isActive ? compliance + (follows ? 0 : wa) : INERT;
    if (isActive) {
      area += shape * rest * rest;
      heldArea += shape * rest * rest * Math.min(1, own / (compliance + kinks));
    }
    // Exact for one pair over the frame whatever its length: it can only take speed away.
    const damping = 0.5 * (dampingScales[a]! + dampingScales[b]!) * fabric.edgeDamping;
    const rate = isActive ? damping * shape * (wa + wb) * seconds : 0;
    const share = isActive ? rate / (1 + rate) / (wa + wb) : 0;
    state.pairDampA[s] = share * wa;
    state.pairDampB[s] = share * wb;
  }
  return area > 0 ? heldArea / area : 1;
}

/** Share of its velocity that damping leaves each point after a substep of `h` seconds. @param scales - [n] */
export function deriveVelocityRetention(
  { velocityRetention }: Pick<SolverState, 'velocityRetention'>,
  { damping }: Pick<FabricSettings, 'damping'>,
  scales: Float32Array,
  h: number,
): void {
  velocityRetention.fill(1);
  for (let i = 0; i < scales.length; i++) velocityRetention[i] = 1 / (1 + damping * scales[i]! * h);
}

/** Share of the hinges, by area, that must hold the full stiffness; slivers among the rest do not slow all down. */
const HELD_FULLY = 0.95;

export interface BendFactors {
  filter: BendFilter;
  /** Share of the fabric's bend stiffness that the mesh can hold with them, the mean over the hinges by area. */
  held: number;
}

/**
 * Factors of the bending rows.
 *
 * A step can answer only so much: a row's bound is the sum of its absolute values (Gershgorin). The filter of fewest
 * steps that is stable for nearly all hinges is taken; what even the longest cannot hold, and what slivers ask beyond
 * the rest, is taken off hinge by hinge.
 *
 * @param h - Seconds of a substep.
 */
export function deriveBend(
  { bend, pointCount }: CompiledGarment,
  state: SolverState,
  fabric: FabricSettings,
  points: PointFactors,
  h: number,
): BendFactors {
  const { quads, weights, shape, areas } = bend.hinges;
  const { inverseMasses, bendValues, foldShares } = state;
  const hingeCount = shape.length;
  bendValues.fill(0);
  foldShares.fill(0);
  const whole = fabric.bendStiffness * h * h;
  const demands = measureDemands(bend.hinges, inverseMasses, points, whole, pointCount);
  if (!demands) return { filter: BEND_FILTERS[0]!, held: 1 };
  const filter =
    BEND_FILTERS.find(({ bound }) => bound >= demands.typical) ?? BEND_FILTERS[MOST_BEND_STEPS - 1]!;
  let heldArea = 0;
  let area = 0;
  for (let q = 0; q < hingeCount; q++) {
    const demand = demands.ofHinges[q]!;
    if (demand === 0) continue;
    const share = Math.min(1, filter.bound / demand);
    area += areas[q]!;
    heldArea += share * areas[q]!;
    const stiffness = share * whole * shape[q]! * computeMeanOfHinge(quads, q, points.stiffness);
    for (let i = 0, slot = 12 * q; i < 4; i++) {
      const factor = stiffness * inverseMasses[quads[4 * q + i]!]! * weights[4 * q + i]!;
      foldShares[4 * q + i] = factor;
      for (let j = 0; j < 4; j++) {
        if (i === j) continue;
        const at = bend.slots[slot++]!;
        bendValues[at] = bendValues[at]! - factor * weights[4 * q + j]!;
      }
    }
  }
  return { filter, held: area > 0 ? heldArea / area : 1 };
}

function computeMeanOfHinge(quads: Uint32Array, q: number, values: Float32Array): number {
  return (
    (values[quads[4 * q]!]! +
      values[quads[4 * q + 1]!]! +
      values[quads[4 * q + 2]!]! +
      values[quads[4 * q + 3]!]!) /
    4
  );
}

/**
 * How much of each hinge's points the whole step would answer at most, 0 for hinges that do nothing; and the demand
 * that all but a few hinges stay within. Null when none does anything.
 */
function measureDemands(
  { quads, weights, shape, areas }: Hinges,
  inverseMasses: Float32Array,
  { isLining, stiffness }: PointFactors,
  whole: number,
  pointCount: number,
): { ofHinges: Float64Array; typical: number } | null {
  const ofPoints = new Float64Array(pointCount);
  const ofHinges = new Float64Array(shape.length);
  const isActive = (q: number): boolean => {
    for (let i = 4 * q; i < 4 * q + 4; i++) if (isLining[quads[i]!]) return false;
    return true;
  };
  for (let q = 0; q < shape.length; q++) {
    if (!isActive(q)) continue;
    const scaled = whole * computeMeanOfHinge(quads, q, stiffness);
    let sum = 0;
    for (let i = 4 * q; i < 4 * q + 4; i++) sum += Math.abs(weights[i]!);
    for (let i = 4 * q; i < 4 * q + 4; i++) {
      const point = quads[i]!;
      const answer = scaled * inverseMasses[point]! * shape[q]! * Math.abs(weights[i]!) * sum;
      ofPoints[point] = ofPoints[point]! + answer;
    }
  }
  const active: number[] = [];
  let area = 0;
  for (let q = 0; q < shape.length; q++) {
    if (!isActive(q)) continue;
    for (let i = 4 * q; i < 4 * q + 4; i++) ofHinges[q] = Math.max(ofHinges[q]!, ofPoints[quads[i]!]!);
    if (ofHinges[q] === 0) continue;
    active.push(q);
    area += areas[q]!;
  }
  if (active.length === 0) return null;
  active.sort((p, q) => ofHinges[p]! - ofHinges[q]! || p - q);
  let left = HELD_FULLY * area;
  for (const q of active) {
    left -= areas[q]!;
    if (left <= 0) return { ofHinges, typical: ofHinges[q]! };
  }
  return { ofHinges, typical: ofHinges[active[active.length - 1]!]! };
}
