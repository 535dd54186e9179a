import type { CompiledGarment } from '../compiled-garment.ts';

/** Squared doubled areas (m⁴) below this have no usable normal. */
const LEAST_NORMAL = 1e-16;

/**
 * One pass over the hinges: C = θ - rest, compliance 1 / (stiffness · shape).
 *
 * ```
 *        c          n1 = e × (c - a), n2 = (d - a) × e
 *       ╱ ╲         ∂θ/∂c = -|e| n1 / |n1|²     ∂θ/∂d = -|e| n2 / |n2|²
 *      a─e─b        the edge's ends share the rest, so that the four sum to zero
 *       ╲ ╱
 *        d
 * ```
 * @param x - [n, 4], changed. @param stiffness - Bending rigidity, N·m. @param h - Seconds of the substep.
 *
 * Reference for the gradients: R. Tamstorf and E. Grinspun, *Discrete bending forces and their Jacobians*,
 * Graphical Models 75, 2013.
 */
export function solveBend(garment: CompiledGarment, x: Float32Array, stiffness: number, h: number): void {
  if (!(stiffness > 0)) return;
  const { bendQuads, bendRest, bendShape } = garment;
  const perShape = 1 / (stiffness * h * h);
  for (let q = 0; q < bendRest.length; q++) {
    const a = 4 * bendQuads[4 * q]!;
    const b = 4 * bendQuads[4 * q + 1]!;
    const c = 4 * bendQuads[4 * q + 2]!;
    const d = 4 * bendQuads[4 * q + 3]!;
    const wa = x[a + 3]!;
    const wb = x[b + 3]!;
    const wc = x[c + 3]!;
    const wd = x[d + 3]!;
    if (wa + wb + wc + wd === 0) continue;
    const ax = x[a]!;
    const ay = x[a + 1]!;
    const az = x[a + 2]!;
    const ex = x[b]! - ax;
    const ey = x[b + 1]! - ay;
    const ez = x[b + 2]! - az;
    const fx = x[c]! - ax;
    const fy = x[c + 1]! - ay;
    const fz = x[c + 2]! - az;
    const gx = x[d]! - ax;
    const gy = x[d + 1]! - ay;
    const gz = x[d + 2]! - az;
    const n1x = ey * fz - ez * fy;
    const n1y = ez * fx - ex * fz;
    const n1z = ex * fy - ey * fx;
    const n2x = gy * ez - gz * ey;
    const n2y = gz * ex - gx * ez;
    const n2z = gx * ey - gy * ex;
    const n1 = n1x * n1x + n1y * n1y + n1z * n1z;
    const n2 = n2x * n2x + n2y * n2y + n2z * n2z;
    const ee = ex * ex + ey * ey + ez * ez;
    if (n1 < LEAST_NORMAL || n2 < LEAST_NORMAL || ee === 0) continue;
    const length = Math.sqrt(ee);
    const sine =
      ((n1y * n2z - n1z * n2y) * ex + (n1z * n2x - n1x * n2z) * ey + (n1x * n2y - n1y * n2x) * ez) / length;
    let angle = Math.atan2(sine, n1x * n2x + n1y * n2y + n1z * n2z) - bendRest[q]!;
    if (angle > Math.PI) angle -= 2 * Math.PI;
    else if (angle < -Math.PI) angle += 2 * Math.PI;
    // Gradients are multiples of the two normals: of n1 for a, b, c; of n2 for a, b, d.
    const c1 = -length / n1;
    const d2 = -length / n2;
    const b1 = (fx * ex + fy * ey + fz * ez) / (length * n1);
    const b2 = (gx * ex + gy * ey + gz * ez) / (length * n2);
    const a1 = -(b1 + c1);
    const a2 = -(b2 + d2);
    const n12 = n1x * n2x + n1y * n2y + n1z * n2z;
    const weighted =
      wc * c1 * c1 * n1 +
      wd * d2 * d2 * n2 +
      wa * (a1 * a1 * n1 + 2 * a1 * a2 * n12 + a2 * a2 * n2) +
      wb * (b1 * b1 * n1 + 2 * b1 * b2 * n12 + b2 * b2 * n2);
    const scale = -angle / (weighted + perShape / bendShape[q]!);
    moveAlong(x, a, wa * scale * a1, n1x, n1y, n1z, wa * scale * a2, n2x, n2y, n2z);
    moveAlong(x, b, wb * scale * b1, n1x, n1y, n1z, wb * scale * b2, n2x, n2y, n2z);
    moveAlong(x, c, wc * scale * c1, n1x, n1y, n1z, 0, n2x, n2y, n2z);
    moveAlong(x, d, 0, n1x, n1y, n1z, wd * scale * d2, n2x, n2y, n2z);
  }
}

function moveAlong(
  x: Float32Array,
  i: number,
  s1: number,
  n1x: number,
  n1y: number,
  n1z: number,
  s2: number,
  n2x: number,
  n2y: number,
  n2z: number,
): void {
  x[i] = x[i]! + s1 * n1x + s2 * n2x;
  x[i + 1] = x[i + 1]! + s1 * n1y + s2 * n2y;
  x[i + 2] = x[i + 2]! + s1 * n1z + s2 * n2z;
}
