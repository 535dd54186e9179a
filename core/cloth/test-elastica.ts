/**
 * The planar elastica under its own weight: a strip clamped level at one end and free at the other,
 * B φ'' = -w g (L - s) cos φ with φ(0) = 0 and φ'(L) = 0, φ the angle below level.
 *
 * Integrated backward from the free end (Runge-Kutta of fourth order), the angle there found by bisection. Written
 * from the differential equation alone: an oracle independent of any solver.
 *
 * @param weight - w g, N/m². @param bending - B, N·m. @param length - m.
 * @returns Place of the free end from the clamp: along and down, m.
 */
export function computeElasticaTip(
  weight: number,
  bending: number,
  length: number,
): { along: number; down: number } {
  let low = 0;
  let high = Math.PI / 2;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (integrate(weight / bending, length, middle).angle > 0) high = middle;
    else low = middle;
  }
  const { along, down } = integrate(weight / bending, length, low);
  return { along, down };
}

function integrate(
  load: number,
  length: number,
  tipAngle: number,
): { angle: number; along: number; down: number } {
  const steps = 4000;
  const h = length / steps;
  let angle = tipAngle;
  let curvature = 0;
  let along = 0;
  let down = 0;
  // r = L - s grows from the tip: φ_rr = -load r cos φ.
  for (let i = 0; i < steps; i++) {
    const r = i * h;
    const f = (at: number, a: number): number => -load * at * Math.cos(a);
    const k1 = [curvature, f(r, angle)] as const;
    const k2 = [curvature + (h / 2) * k1[1], f(r + h / 2, angle + (h / 2) * k1[0])] as const;
    const k3 = [curvature + (h / 2) * k2[1], f(r + h / 2, angle + (h / 2) * k2[0])] as const;
    const k4 = [curvature + h * k3[1], f(r + h, angle + h * k3[0])] as const;
    along += h * Math.cos(angle + (h / 2) * k1[0]);
    down += h * Math.sin(angle + (h / 2) * k1[0]);
    angle += (h / 6) * (k1[0] + 2 * k2[0] + 2 * k3[0] + k4[0]);
    curvature += (h / 6) * (k1[1] + 2 * k2[1] + 2 * k3[1] + k4[1]);
    // Past level the sum only falls: the answer's sign is known.
    if (angle < 0) return { angle, along, down };
  }
  return { angle, along, down };
}
