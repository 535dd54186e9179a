import { arcCosine, sine } from '../math/index.ts';
import type { Track } from './character.ts';

/**
 * Writes the value of a track at a time into `out[o..o+width-1]`, by the rules of glTF 2.0 (section 3.11 and
 * appendix C): clamped to the first and last key; STEP keeps the key before; LINEAR blends, rotations by the
 * shortest slerp; CUBICSPLINE is a Hermite spline with tangents scaled by the key distance, rotations
 * normalised after.
 *
 * @param time - Seconds.
 * @param width - Numbers per key: 3, 4 for rotations, the number of morphs for weights.
 */
export function sampleTrack(track: Track, time: number, width: number, out: Float64Array, o: number): void {
  const { times, values } = track;
  const isCubic = track.interpolation === 'CUBICSPLINE';
  const stride = isCubic ? 3 * width : width;
  const valueOffset = isCubic ? width : 0;
  const last = times.length - 1;
  let key = 0;
  if (time >= times[last]!) key = last;
  else if (time > times[0]!) key = findKey(times, time);
  const isClamped = time <= times[0]! || key === last;
  const from = key * stride + valueOffset;
  if (isClamped || track.interpolation === 'STEP') {
    for (let i = 0; i < width; i++) out[o + i] = values[from + i]!;
    if (track.path === 'rotation') normaliseQuaternion(out, o);
    return;
  }
  const step = times[key + 1]! - times[key]!;
  const t = (time - times[key]!) / step;
  const to = from + stride;
  if (isCubic) {
    const t2 = t * t;
    const t3 = t2 * t;
    for (let i = 0; i < width; i++) {
      out[o + i] =
        (2 * t3 - 3 * t2 + 1) * values[from + i]! +
        step * (t3 - 2 * t2 + t) * values[from + width + i]! +
        (-2 * t3 + 3 * t2) * values[to + i]! +
        step * (t3 - t2) * values[to - width + i]!;
    }
    if (track.path === 'rotation') normaliseQuaternion(out, o);
  } else if (track.path === 'rotation') {
    slerpShortest(values, from, values, to, t, out, o);
  } else {
    for (let i = 0; i < width; i++) out[o + i] = values[from + i]! * (1 - t) + values[to + i]! * t;
  }
}

/** Last key not after `time`; `times[0] < time < times[last]`. */
function findKey(times: Float32Array, time: number): number {
  let low = 0;
  let high = times.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle]! <= time) low = middle;
    else high = middle;
  }
  return low;
}

/** Writes the shortest spherical blend of two quaternions, unit length. */
export function slerpShortest(
  a: ArrayLike<number>,
  ao: number,
  b: ArrayLike<number>,
  bo: number,
  t: number,
  out: Float64Array,
  o: number,
): void {
  let cosine = a[ao]! * b[bo]! + a[ao + 1]! * b[bo + 1]! + a[ao + 2]! * b[bo + 2]! + a[ao + 3]! * b[bo + 3]!;
  const sign = cosine < 0 ? -1 : 1;
  cosine = Math.min(1, cosine * sign);
  let wa = 1 - t;
  let wb = t;
  // Closer than this the sine in the divisor loses its digits, and the straight blend is exact enough.
  if (cosine < 0.99999) {
    const angle = arcCosine(cosine);
    const over = 1 / sine(angle);
    wa = sine((1 - t) * angle) * over;
    wb = sine(t * angle) * over;
  }
  wb *= sign;
  for (let i = 0; i < 4; i++) out[o + i] = a[ao + i]! * wa + b[bo + i]! * wb;
  normaliseQuaternion(out, o);
}

/** Scales a quaternion to unit length; a zero one becomes the identity. */
export function normaliseQuaternion(q: Float64Array | Float32Array, o: number): void {
  let squared = 0;
  for (let i = o; i < o + 4; i++) squared += q[i]! * q[i]!;
  const length = Math.sqrt(squared);
  if (!(length > 0)) {
    q[o] = q[o + 1] = q[o + 2] = 0;
    q[o + 3] = 1;
    return;
  }
  for (let i = 0; i < 4; i++) q[o + i] = q[o + i]! / length;
}
