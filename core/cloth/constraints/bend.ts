import { BEND_FILTER_MEAN } from '../bend-filter.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import type { SolverState } from '../solver-state.ts';

/** Normals (of unit length at rest) whose sum is shorter than this face each other: the hinge is folded onto itself. */
const LEAST_SUM = 1e-3;

/**
 * Bending as a filter of the predicted places.
 *
 * The isometric energy is quadratic, so its force is one sparse matrix times the places: for each point a sum over
 * the points that share a hinge with it. One explicit step at x + h v is exact at rest and takes energy from fast
 * folds only; stiff cloth on a fine mesh takes more steps of a recurrence, see `BendFilter`.
 *
 * From `predicted` into `positions`.
 *
 * Tried before: the energy as position constraints (one pass per substep). At rest each constraint then acts with
 * 1 / (α̃ + w|∇C|²) instead of 1 / α̃: on a mesh of 1 cm a felt bent like a cloth a third as stiff, on one of 5 mm
 * like one of a fortieth.
 *
 * Reference: M. Bergou, M. Wardetzky, D. Harmon, D. Zorin, E. Grinspun, *A quadratic bending model for inextensible
 * surfaces*, SGP 2006. Departures: a rest curvature along the normal, so that a fold keeps its side; and one over the
 * hinge's area where the paper has three, which on a mesh of equilateral triangles makes the energy that of a plate
 * (H. Seung, D. Nelson, *Defects in flexible membranes with crystalline order*, Phys. Rev. A 38, 1988).
 */
export function solveBend(state: SolverState, { bendFilter }: FrameNumbers): void {
  const { predicted, positions, bendPositions } = state;
  if (!bendFilter) {
    positions.set(predicted);
    return;
  }
  const { steps, coefficients } = bendFilter;
  const size = predicted.length;
  const turns = [bendPositions.subarray(0, size), bendPositions.subarray(size)] as const;
  let before: Float32Array = predicted;
  let now: Float32Array = predicted;
  for (let k = 0; k < steps; k++) {
    const out = steps === 1 ? positions : turns[k % 2]!;
    // One step alone is the explicit one: the mean and the recurrence cancel.
    bendRows(state, before, now, out, coefficients[2 * k]!, steps === 1 ? 1 : coefficients[2 * k + 1]!);
    before = now;
    now = out;
  }
  if (steps === 1) return;
  for (let o = 0; o < size; o++) {
    positions[o] = predicted[o]! + (1 - BEND_FILTER_MEAN) * (now[o]! - predicted[o]!);
  }
}

/** out = μ now + (1 - μ) before + c (rest + Σ factor (now_j - now_i)); rows beyond the points are copied. */
function bendRows(
  state: SolverState,
  before: Float32Array,
  now: Float32Array,
  out: Float32Array,
  mu: number,
  c: number,
): void {
  const { bendStart, bendColumns, bendValues, bendRest } = state;
  const pointCount = bendStart.length - 1;
  out.set(now.subarray(4 * pointCount), 4 * pointCount);
  for (let i = 0; i < pointCount; i++) {
    const o = 4 * i;
    const px = now[o]!;
    const py = now[o + 1]!;
    const pz = now[o + 2]!;
    let sx = bendRest[o]!;
    let sy = bendRest[o + 1]!;
    let sz = bendRest[o + 2]!;
    for (let k = bendStart[i]!; k < bendStart[i + 1]!; k++) {
      const j = 4 * bendColumns[k]!;
      const factor = bendValues[k]!;
      sx += factor * (now[j]! - px);
      sy += factor * (now[j + 1]! - py);
      sz += factor * (now[j + 2]! - pz);
    }
    out[o] = px + (1 - mu) * (before[o]! - px) + c * sx;
    out[o + 1] = py + (1 - mu) * (before[o + 1]! - py) + c * sy;
    out[o + 2] = pz + (1 - mu) * (before[o + 2]! - pz) + c * sz;
  }
}

/**
 * The part of the bending that rests: how the curvatures at rest push each point, turned as the cloth is turned now.
 * Once a frame, not once a substep: within a sixtieth of a second the normals turn little. Folds that are bent
 * further from rest than the yield angle take the rest with them.
 */
export function updateFolds(state: SolverState, { foldMemory, plasticYieldAngle }: FrameNumbers): void {
  const { hingeQuads: quads, hingeWeights: weights, foldShares, positions: x } = state;
  const { hingeCurvatures: curvatures, hingeDoubleLengths: doubleLengths, bendRest: rest } = state;
  const { hingeInverseAreas: inverseAreas } = state;
  rest.fill(0);
  for (let q = 0; q < curvatures.length; q++) {
    if (curvatures[q] === 0 && plasticYieldAngle >= 1) continue;
    const a = 4 * quads[4 * q]!;
    const b = 4 * quads[4 * q + 1]!;
    const c = 4 * quads[4 * q + 2]!;
    const d = 4 * quads[4 * q + 3]!;
    const ex = x[b]! - x[a]!;
    const ey = x[b + 1]! - x[a + 1]!;
    const ez = x[b + 2]! - x[a + 2]!;
    const fx = x[c]! - x[a]!;
    const fy = x[c + 1]! - x[a + 1]!;
    const fz = x[c + 2]! - x[a + 2]!;
    const gx = x[d]! - x[a]!;
    const gy = x[d + 1]! - x[a + 1]!;
    const gz = x[d + 2]! - x[a + 2]!;
    // The sum of the two normals, each over its doubled area at rest: e × f / A₁ + g × e / A₂ in one product.
    const first = inverseAreas[2 * q]!;
    const second = inverseAreas[2 * q + 1]!;
    const wx = first * fx - second * gx;
    const wy = first * fy - second * gy;
    const wz = first * fz - second * gz;
    const nx = ey * wz - ez * wy;
    const ny = ez * wx - ex * wz;
    const nz = ex * wy - ey * wx;
    const sum = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (sum < LEAST_SUM) continue;
    if (plasticYieldAngle < 1) {
      // The weights sum to zero: places relative to a give the same curvature.
      const kb = weights[4 * q + 1]!;
      const kc = weights[4 * q + 2]!;
      const kd = weights[4 * q + 3]!;
      const curvature =
        ((kb * ex + kc * fx + kd * gx) * nx +
          (kb * ey + kc * fy + kd * gy) * ny +
          (kb * ez + kc * fz + kd * gz) * nz) /
        sum;
      const most = doubleLengths[q]! * plasticYieldAngle;
      curvatures[q] = Math.min(Math.max(curvatures[q]!, curvature - most), curvature + most);
    }
    const scale = (foldMemory * curvatures[q]!) / sum;
    for (let i = 0; i < 4; i++) {
      const o = 4 * quads[4 * q + i]!;
      const share = scale * foldShares[4 * q + i]!;
      rest[o] = rest[o]! + share * nx;
      rest[o + 1] = rest[o + 1]! + share * ny;
      rest[o + 2] = rest[o + 2]! + share * nz;
    }
  }
}
