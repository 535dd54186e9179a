import type { FrameNumbers } from '../frame-numbers.ts';
import type { SolverState } from '../solver-state.ts';

/** Where everything would be at the end of the substep that ends at `share` of the frame, left alone. */
export function predict(state: SolverState, frame: FrameNumbers, share: number): void {
  const {
    positions: x,
    velocities: v,
    predicted,
    inverseMasses,
    velocityRetention,
    pushes,
    targets: from,
    nextTargets: to,
  } = state;
  const { h } = frame;
  const rate = 1 / frame.seconds;
  for (let i = 0; i < inverseMasses.length; i++) {
    const o = 4 * i;
    if (inverseMasses[i] === 0) {
      for (let k = o; k < o + 3; k++) {
        const displacement = to[k]! - from[k]!;
        predicted[k] = from[k]! + share * displacement;
        v[k] = displacement * rate;
      }
      continue;
    }
    const keep = velocityRetention[i]!;
    v[o] = (v[o]! + pushes[o]!) * keep;
    v[o + 1] = (v[o + 1]! + pushes[o + 1]!) * keep;
    v[o + 2] = (v[o + 2]! + pushes[o + 2]!) * keep;
    for (let k = o; k < o + 3; k++) predicted[k] = x[k]! + h * v[k]!;
  }
}

/** Pulls points back that are farther from their held point than the tether is long. */
export function holdTethers(state: SolverState, share: number): void {
  const { positions: x, inverseMasses, tetherAnchors, tetherLengths, targets: from, nextTargets: to } = state;
  for (let i = 0; i < inverseMasses.length; i++) {
    if (inverseMasses[i] === 0) continue;
    const o = 4 * i;
    const a = 4 * tetherAnchors[i]!;
    const ax = from[a]! + share * (to[a]! - from[a]!);
    const ay = from[a + 1]! + share * (to[a + 1]! - from[a + 1]!);
    const az = from[a + 2]! + share * (to[a + 2]! - from[a + 2]!);
    const dx = x[o]! - ax;
    const dy = x[o + 1]! - ay;
    const dz = x[o + 2]! - az;
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (length <= tetherLengths[i]!) continue;
    const scale = tetherLengths[i]! / length;
    x[o] = ax + scale * dx;
    x[o + 1] = ay + scale * dy;
    x[o + 2] = az + scale * dz;
  }
}

/**
 * Keeps points out of the sphere of their inward limit, which moves with the skinned place, and then within their
 * max distance of it. Last of all, so that the max distance always holds.
 */
export function holdWithinReach(state: SolverState, frame: FrameNumbers, share: number): void {
  const { positions: x, inverseMasses, reach, inward, targets: from, nextTargets: to } = state;
  for (let i = 0; i < inverseMasses.length; i++) {
    const o = 4 * i;
    const tx = from[o]! + share * (to[o]! - from[o]!);
    const ty = from[o + 1]! + share * (to[o + 1]! - from[o + 1]!);
    const tz = from[o + 2]! + share * (to[o + 2]! - from[o + 2]!);
    let dx = x[o]! - tx;
    let dy = x[o + 1]! - ty;
    let dz = x[o + 2]! - tz;
    if (frame.hasInward && inward[o + 3]! >= 0) {
      const cx = dx - inward[o]!;
      const cy = dy - inward[o + 1]!;
      const cz = dz - inward[o + 2]!;
      const distance = Math.sqrt(cx * cx + cy * cy + cz * cz);
      if (distance < inward[o + 3]! && distance > 0) {
        const scale = inward[o + 3]! / distance;
        dx = inward[o]! + scale * cx;
        dy = inward[o + 1]! + scale * cy;
        dz = inward[o + 2]! + scale * cz;
      }
    }
    const distance = Math.sqrt(dx * dx + dy * dy + dz * dz);
    const scale = distance > reach[i]! ? reach[i]! / distance : 1;
    x[o] = tx + scale * dx;
    x[o + 1] = ty + scale * dy;
    x[o + 2] = tz + scale * dz;
  }
}

/**
 * Adds what the constraints moved since the prediction. The same as (x - previous) / h in exact numbers, but
 * the rounding of places (float32, a few metres from the origin) does not leak into the velocity.
 */
export function updateVelocities(state: SolverState, frame: FrameNumbers): void {
  const { positions: x, velocities: v, predicted, inverseMasses } = state;
  const rate = 1 / frame.h;
  for (let i = 0; i < inverseMasses.length; i++) {
    if (inverseMasses[i] === 0) continue;
    for (let k = 4 * i; k < 4 * i + 3; k++) v[k] = v[k]! + (x[k]! - predicted[k]!) * rate;
  }
}

/** Draws points towards the hand, each by its strength. */
export function pull(state: SolverState, frame: FrameNumbers): void {
  const { positions: x, pulledRows, pulledPositions } = state;
  for (let k = 0; k < frame.pulledCount; k++) {
    const o = 4 * pulledRows[k]!;
    const strength = pulledPositions[4 * k + 3]!;
    for (let c = 0; c < 3; c++) x[o + c] = x[o + c]! + strength * (pulledPositions[4 * k + c]! - x[o + c]!);
  }
}
