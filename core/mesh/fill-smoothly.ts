import { solveConjugate } from '../math/index.ts';
import { applyLaplacian, buildCotangentLaplacian } from './cotangent-laplacian.ts';
import type { Surface } from './surface.ts';

/**
 * Fills values in where they are not known, so that they run on smoothly over the surface: least Dirichlet plus
 * bending energy of the values, with the known ones kept.
 *
 * @param values - `width` values a point, [n, width]; the unknown ones are overwritten.
 * @param isKnown - [n]. Pieces of the surface without any known point keep what they have.
 * @param onProgress - Called with the share done, between columns.
 *
 * The energy is -L + L M⁻¹ L of Abdrashitov et al. 2023, *Robust skin weights transfer via weight inpainting*, SIGGRAPH
 * Asia Technical Communications, equation (2). Departure: areas are relative to their mean, so that the share of the two
 * terms does not hang on the unit or the size of the garment.
 */
export function fillSmoothly(
  surface: Surface,
  values: Float32Array,
  width: number,
  isKnown: Uint8Array,
  onProgress: (share: number) => void = () => {},
): void {
  const count = isKnown.length;
  const laplacian = buildCotangentLaplacian(surface);
  const meanArea = laplacian.areas.reduce((sum, area) => sum + area, 0) / Math.max(1, count);
  const unknown = Array.from({ length: count }, (_, i) => i).filter((i) => !isKnown[i]);
  if (unknown.length === 0 || unknown.length === count) return;
  const inverse = laplacian.areas.map((area) => (area > 0 ? Math.min(20, meanArea / area) : 1));
  const whole = new Float64Array(count);
  const once = new Float64Array(count);
  const twice = new Float64Array(count);
  /** (L + L M⁻¹ L) of values over all points, read at the unknown ones. */
  const energy = (out: Float64Array): void => {
    applyLaplacian(laplacian, whole, once);
    for (let i = 0; i < count; i++) twice[i] = inverse[i]! * once[i]!;
    applyLaplacian(laplacian, twice, whole);
    unknown.forEach((i, u) => {
      out[u] = once[i]! + whole[i]!;
    });
  };
  const apply = (x: Float64Array, out: Float64Array): void => {
    whole.fill(0);
    unknown.forEach((i, u) => {
      whole[i] = x[u]!;
    });
    energy(out);
  };
  const diagonal = computeDiagonal(laplacian, inverse, unknown);
  const right = new Float64Array(unknown.length);
  for (let k = 0; k < width; k++) {
    onProgress(k / width);
    let isZero = true;
    for (let i = 0; i < count; i++) {
      whole[i] = isKnown[i] ? values[width * i + k]! : 0;
      if (whole[i] !== 0) isZero = false;
    }
    const guess = Float64Array.from(unknown, (i) => values[width * i + k]!);
    if (isZero && guess.every((value) => value === 0)) continue;
    energy(right);
    for (let u = 0; u < right.length; u++) right[u] = -right[u]!;
    const solved = solveConjugate(apply, diagonal, right, guess, 1e-5);
    unknown.forEach((i, u) => {
      values[width * i + k] = solved[u]!;
    });
  }
}

function computeDiagonal(
  { start, columns, weights, diagonal }: ReturnType<typeof buildCotangentLaplacian>,
  inverse: Float64Array,
  points: readonly number[],
): Float64Array {
  return Float64Array.from(points, (i) => {
    let sum = diagonal[i]! + diagonal[i]! * diagonal[i]! * inverse[i]!;
    for (let at = start[i]!; at < start[i + 1]!; at++) sum += weights[at]! ** 2 * inverse[columns[at]!]!;
    return sum;
  });
}
