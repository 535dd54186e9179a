import { BEND_FILTERS, type BendFilter, MOST_BEND_STEPS } from './bend-filter.ts';
import type { Hinges } from './compile/hinges.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import type { FabricSettings } from './fabric-parameters.ts';
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
 * Factors of the stretch pairs: each end moves by its share of the error, w / (wₐ + w_b + α̃), with the compliance
 * α̃ = 1 / (k h²) of extended position-based dynamics. With several passes a substep each pass is as much softer,
 * so that together they are as stiff as the fabric.
 *
 * A pair is as stiff and damped as the mean of the scales at its ends.
 *
 * @param h - Seconds of a substep. @param seconds - Of a frame.
 */
export function derivePairs(
  garment: CompiledGarment,
  state: SolverState,
  fabric: FabricSettings,
  { isLining, stiffness: stiffnessScales, damping: dampingScales }: PointFactors,
  h: number,
  seconds: number,
): void {
  const { stretchRest, stretchShape, stretchWarp, stretchPairs } = garment;
  const { inverseMasses } = state;
  for (let s = 0; s < stretchRest.length; s++) {
    const a = stretchPairs[2 * s]!;
    const b = stretchPairs[2 * s + 1]!;
    const wa = inverseMasses[a]!;
    const wb = inverseMasses[b]!;
    const shape = stretchShape[s]!;
    const rest = stretchRest[s]!;
    state.pairLow[s] = rest * (1 - fabric.compressionRange);
    state.pairHigh[s] = rest;
    const isActive = shape > 0 && wa + wb > 0 && !isLining[a] && !isLining[b];
    const scale = 0.5 * (stiffnessScales[a]! + stiffnessScales[b]!);
    const stiffness = isActive ? scale * computeEdgeStiffness(fabric, stretchWarp[s]!) * shape : 0;
    const total = wa + wb + fabric.iterations / (stiffness * h * h);
    state.pairShareA[s] = isActive ? wa / total : 0;
    state.pairShareB[s] = isActive ? wb / total : 0;
    // Exact for one pair over the frame whatever its length: it can only take speed away.
    const damping = 0.5 * (dampingScales[a]! + dampingScales[b]!) * fabric.edgeDamping;
    const rate = isActive ? damping * shape * (wa + wb) * seconds : 0;
    const share = isActive ? rate / (1 + rate) / (wa + wb) : 0;
    state.pairDampA[s] = share * wa;
    state.pairDampB[s] = share * wb;
  }
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
