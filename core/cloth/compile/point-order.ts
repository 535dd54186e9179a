import { boundPlaces } from '../../math/index.ts';

/** A row of the solver: welded vertices in the order in which they lie in its memory. */
export type SolverIndex = number & { readonly brand: 'SolverIndex' };

/**
 * Points sorted along a space-filling curve (Morton order of a 1024³ grid over their box), so that points that lie
 * near each other in space lie near each other in memory. Equal cells keep their order.
 *
 * @param positions - [n, 3] metres.
 * @returns place along the curve → point, [n].
 */
export function orderAlongCurve(positions: Float32Array): Uint32Array {
  const count = positions.length / 3;
  const { low, high } = boundPlaces(positions);
  const size = Math.max(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
  const scale = size > 0 ? 1023 / size : 0;
  const codes = new Uint32Array(count);
  for (let i = 0; i < count; i++) {
    let code = 0;
    for (let k = 0; k < 3; k++) code |= spread(Math.floor((positions[3 * i + k]! - low[k]!) * scale)) << k;
    codes[i] = code;
  }
  return Uint32Array.from({ length: count }, (_, i) => i).sort((p, q) => codes[p]! - codes[q]! || p - q);
}

/** Moves bit b of a ten-bit number to bit 3b. */
function spread(value: number): number {
  let x = value & 0x3ff;
  x = (x | (x << 16)) & 0x030000ff;
  x = (x | (x << 8)) & 0x0300f00f;
  x = (x | (x << 4)) & 0x030c30c3;
  return (x | (x << 2)) & 0x09249249;
}
