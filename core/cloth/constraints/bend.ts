import type { CompiledGarment } from '../compiled-garment.ts';

/** Doubled areas (m²) below this have no usable normal. */
const LEAST_NORMAL = 1e-12;
/** Unit normals whose sum is shorter than this face each other: the hinge is folded onto itself. */
const LEAST_SUM = 1e-3;

/**
 * The curvature vectors that the hinges have at rest, turned as the cloth is turned now: rest · n, where n lies
 * between the unit normals of the two triangles. Zero for a hinge that is folded onto itself.
 *
 * Once a frame, not once a substep: within a sixtieth of a second the normals turn little, and it halves the time.
 *
 * @param outVectors - [b, 3], overwritten.
 */
export function updateRestCurvature(
  garment: CompiledGarment,
  x: Float32Array,
  outVectors: Float32Array,
): void {
  const { bendQuads, bendRest } = garment;
  for (let q = 0; q < bendRest.length; q++) {
    const a = 4 * bendQuads[4 * q]!;
    const b = 4 * bendQuads[4 * q + 1]!;
    const c = 4 * bendQuads[4 * q + 2]!;
    const d = 4 * bendQuads[4 * q + 3]!;
    const ex = x[b]! - x[a]!;
    const ey = x[b + 1]! - x[a + 1]!;
    const ez = x[b + 2]! - x[a + 2]!;
    const fx = x[c]! - x[a]!;
    const fy = x[c + 1]! - x[a + 1]!;
    const fz = x[c + 2]! - x[a + 2]!;
    const gx = x[d]! - x[a]!;
    const gy = x[d + 1]! - x[a + 1]!;
    const gz = x[d + 2]! - x[a + 2]!;
    const n1x = ey * fz - ez * fy;
    const n1y = ez * fx - ex * fz;
    const n1z = ex * fy - ey * fx;
    const n2x = gy * ez - gz * ey;
    const n2y = gz * ex - gx * ez;
    const n2z = gx * ey - gy * ex;
    const n1 = Math.max(LEAST_NORMAL, Math.sqrt(n1x * n1x + n1y * n1y + n1z * n1z));
    const n2 = Math.max(LEAST_NORMAL, Math.sqrt(n2x * n2x + n2y * n2y + n2z * n2z));
    const nx = n1x / n1 + n2x / n2;
    const ny = n1y / n1 + n2y / n2;
    const nz = n1z / n1 + n2z / n2;
    const nn = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const scale = nn > LEAST_SUM ? bendRest[q]! / nn : 0;
    outVectors[3 * q] = scale * nx;
    outVectors[3 * q + 1] = scale * ny;
    outVectors[3 * q + 2] = scale * nz;
  }
}

/**
 * One pass over the hinges: the vector constraint C = Σ k x - rest vector, compliance 1 / (stiffness · shape).
 *
 * ```
 *        c          every point moves along C, by its weight k; the weights sum to zero, and where the
 *       ╱ ╲         hinge is flat at rest the moves turn nothing, since Σ k x is parallel to itself
 *      a─e─b
 *       ╲ ╱
 *        d
 * ```
 * @param restVectors - From `updateRestCurvature`, [b, 3].
 * @param x - [n, 4], changed. @param stiffness - Bending rigidity, N·m. @param h - Seconds of the substep.
 *
 * Reference: M. Bergou et al., *A quadratic bending model for inextensible surfaces*, SGP 2006.
 * Departure: a rest curvature along the normal, so that a rest fold keeps its side.
 * Tried before: the fold angle by atan2, and C along the normal only. Both fed energy into cloth that is pressed
 * together (1.5 m/s at rest with 6 substeps); this one is convex but for the small rest term, and does not.
 */
export function solveBend(
  garment: CompiledGarment,
  restVectors: Float32Array,
  x: Float32Array,
  stiffness: number,
  h: number,
): void {
  if (!(stiffness > 0)) return;
  const { bendQuads, bendWeights, bendShape } = garment;
  const perShape = 1 / (stiffness * h * h);
  for (let q = 0; q < bendShape.length; q++) {
    const o = 4 * q;
    const a = 4 * bendQuads[o]!;
    const b = 4 * bendQuads[o + 1]!;
    const c = 4 * bendQuads[o + 2]!;
    const d = 4 * bendQuads[o + 3]!;
    const ka = bendWeights[o]!;
    const kb = bendWeights[o + 1]!;
    const kc = bendWeights[o + 2]!;
    const kd = bendWeights[o + 3]!;
    const wa = x[a + 3]! * ka;
    const wb = x[b + 3]! * kb;
    const wc = x[c + 3]! * kc;
    const wd = x[d + 3]! * kd;
    const weighted = wa * ka + wb * kb + wc * kc + wd * kd;
    if (weighted === 0) continue;
    const scale = -1 / (weighted + perShape / bendShape[q]!);
    const ux = scale * (ka * x[a]! + kb * x[b]! + kc * x[c]! + kd * x[d]! - restVectors[3 * q]!);
    const uy =
      scale * (ka * x[a + 1]! + kb * x[b + 1]! + kc * x[c + 1]! + kd * x[d + 1]! - restVectors[3 * q + 1]!);
    const uz =
      scale * (ka * x[a + 2]! + kb * x[b + 2]! + kc * x[c + 2]! + kd * x[d + 2]! - restVectors[3 * q + 2]!);
    x[a] = x[a]! + wa * ux;
    x[a + 1] = x[a + 1]! + wa * uy;
    x[a + 2] = x[a + 2]! + wa * uz;
    x[b] = x[b]! + wb * ux;
    x[b + 1] = x[b + 1]! + wb * uy;
    x[b + 2] = x[b + 2]! + wb * uz;
    x[c] = x[c]! + wc * ux;
    x[c + 1] = x[c + 1]! + wc * uy;
    x[c + 2] = x[c + 2]! + wc * uz;
    x[d] = x[d]! + wd * ux;
    x[d + 1] = x[d + 1]! + wd * uy;
    x[d + 2] = x[d + 2]! + wd * uz;
  }
}
