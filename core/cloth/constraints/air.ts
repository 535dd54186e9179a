import { type MutableVector3, writeTriangleCross } from '../../math/index.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import { WAVE_COUNT } from '../frame-numbers.ts';
import type { SolverState } from '../solver-state.ts';

/** kg/m³ at 15 °C. */
export const AIR_DENSITY = 1.225;
/** Doubled areas (m²) below this have no usable normal. */
const LEAST_DOUBLE_AREA = 1e-12;

/**
 * What gravity and the air add to each point's velocity in a substep. The air is looked at every `airEvery` substeps, and its force
 * spread over them, so that what falls freely ends at its terminal speed. With u the air's velocity relative to the triangle, n its normal
 * on the side that u leaves it, and A its area:
 *
 *   drag = ½ ρ c_d A |u·n| u            carries the face along
 *   lift = ½ ρ c_l A |u·n| (|u| n - |u·n| u/|u|)    pushes a slanted face across the flow
 *
 * Never more than what stops the triangle's own mass until the air is looked at again, so that it cannot add energy whatever
 * the time step.
 */
export function updatePushes(state: SolverState, frame: FrameNumbers): void {
  const { airDrag, airLift, h, density, wind } = frame;
  const { positions: x, velocities: v, pushes, inverseMasses, triangles, aeroScale } = state;
  for (let o = 0; o < pushes.length; o += 4) {
    pushes[o] = pushes[o + 2] = 0;
    pushes[o + 1] = frame.gravity * h;
  }
  if (!(airDrag > 0 || airLift > 0)) return;
  const air = [0, 0, 0];
  const normal: MutableVector3 = [0, 0, 0];
  for (let t = 0; t < aeroScale.length; t++) {
    const share = aeroScale[t]!;
    if (share === 0) continue;
    const ia = triangles[3 * t]!;
    const ib = triangles[3 * t + 1]!;
    const ic = triangles[3 * t + 2]!;
    if (inverseMasses[ia]! + inverseMasses[ib]! + inverseMasses[ic]! === 0) continue;
    const a = 4 * ia;
    const b = 4 * ib;
    const c = 4 * ic;
    const [nx, ny, nz] = writeTriangleCross(x, a, b, c, normal);
    const doubleArea = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (doubleArea < LEAST_DOUBLE_AREA) continue;
    addWaves(
      frame.waves,
      (x[a]! + x[b]! + x[c]!) / 3,
      (x[a + 1]! + x[b + 1]! + x[c + 1]!) / 3,
      (x[a + 2]! + x[b + 2]! + x[c + 2]!) / 3,
      air,
    );
    const rx = wind[0] + air[0]! - (v[a]! + v[b]! + v[c]!) / 3;
    const ry = wind[1] + air[1]! - (v[a + 1]! + v[b + 1]! + v[c + 1]!) / 3;
    const rz = wind[2] + air[2]! - (v[a + 2]! + v[b + 2]! + v[c + 2]!) / 3;
    const speed = Math.sqrt(rx * rx + ry * ry + rz * rz);
    if (speed === 0) continue;
    const normalSpeed = (rx * nx + ry * ny + rz * nz) / doubleArea;
    const meeting = Math.abs(normalSpeed);
    // ½ ρ A |u·n| for a corner's third, over one second and kilogram.
    const pressure = (share * AIR_DENSITY * doubleArea * meeting) / 12;
    const along = pressure * (airDrag - (airLift * meeting) / speed);
    const across = ((normalSpeed < 0 ? -1 : 1) * pressure * airLift * speed) / doubleArea;
    const fx = along * rx + across * nx;
    const fy = along * ry + across * ny;
    const fz = along * rz + across * nz;
    const force = Math.sqrt(fx * fx + fy * fy + fz * fz);
    if (force === 0) continue;
    const most = (density * doubleArea * speed) / (6 * frame.airEvery * h);
    const limited = force > most ? most / force : 1;
    for (const i of [ia, ib, ic]) {
      const scale = h * limited * inverseMasses[i]!;
      pushes[4 * i] = pushes[4 * i]! + scale * fx;
      pushes[4 * i + 1] = pushes[4 * i + 1]! + scale * fy;
      pushes[4 * i + 2] = pushes[4 * i + 2]! + scale * fz;
    }
  }
}

/** Writes the turbulence at a place: plane waves of a parabola that stands in for the sine, ±1 at its peaks. */
function addWaves(waves: Float32Array, x: number, y: number, z: number, out: number[]): void {
  out[0] = out[1] = out[2] = 0;
  for (let o = 0; o < 8 * WAVE_COUNT; o += 8) {
    const u = waves[o]! * x + waves[o + 1]! * y + waves[o + 2]! * z + waves[o + 3]!;
    const g = u - Math.floor(u) - 0.5;
    const s = 8 * g * (1 - 2 * Math.abs(g));
    out[0] += s * waves[o + 4]!;
    out[1] += s * waves[o + 5]!;
    out[2] += s * waves[o + 6]!;
  }
}
