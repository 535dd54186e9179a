/**
 * Barycentric weights of b and c of the closest point of a triangle to a place, from u = b - a, w = c - a, q from a to the place:
 * their squares and products, and d1 = u·q, d2 = w·q.
 *
 * Reference: C. Ericson, *Real-Time Collision Detection*, Morgan Kaufmann 2005, §5.1.5.
 */
export function writeClosestWeights(
  uu: number,
  uw: number,
  ww: number,
  d1: number,
  d2: number,
  out: { b: number; c: number },
): void {
  const d3 = d1 - uu;
  const d4 = d2 - uw;
  const d5 = d1 - uw;
  const d6 = d2 - ww;
  out.b = 0;
  out.c = 0;
  if (d1 <= 0 && d2 <= 0) return;
  if (d3 >= 0 && d4 <= d3) {
    out.b = 1;
    return;
  }
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) {
    out.b = d1 === d3 ? 0 : d1 / (d1 - d3);
    return;
  }
  if (d6 >= 0 && d5 <= d6) {
    out.c = 1;
    return;
  }
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) {
    out.c = d2 === d6 ? 0 : d2 / (d2 - d6);
    return;
  }
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const total = d4 - d3 + (d5 - d6);
    const w = total === 0 ? 0 : (d4 - d3) / total;
    out.b = 1 - w;
    out.c = w;
    return;
  }
  const sum = va + vb + vc;
  out.b = sum === 0 ? 0 : vb / sum;
  out.c = sum === 0 ? 0 : vc / sum;
}
