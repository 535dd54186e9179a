/**
 * Sine, cosine and arc cosine by fixed polynomials: the same bits on every machine and in every engine, which
 * `Math.sin` and its kind do not promise. Whatever moves a character uses these.
 *
 * Polynomials: Sun Microsystems' freely distributable mathematical library, 1993; errors below 1e-15 for the angles
 * of a character (a few turns).
 */

const HALF_PI_HIGH = 1.5707963267341256;
const HALF_PI_LOW = 6.077100506506192e-11;

/** Sine of an angle in rad, the same to the bit on every machine. */
export function sine(x: number): number {
  const quarter = Math.round(x / (Math.PI / 2));
  const r = x - quarter * HALF_PI_HIGH - quarter * HALF_PI_LOW;
  switch (((quarter % 4) + 4) % 4) {
    case 0:
      return sineNearZero(r);
    case 1:
      return cosineNearZero(r);
    case 2:
      return -sineNearZero(r);
    default:
      return -cosineNearZero(r);
  }
}

/** Cosine of an angle in rad, the same to the bit on every machine. */
export function cosine(x: number): number {
  return sine(x + Math.PI / 2);
}

/** @param x - Brought within -1 to 1. @returns 0 to π. */
export function arcCosine(x: number): number {
  if (x < 0) return Math.PI - arcCosine(-x);
  if (x >= 1) return 0;
  if (x < 0.5) return Math.PI / 2 - (x + x * arcRatio(x * x));
  const z = (1 - x) / 2;
  const s = Math.sqrt(z);
  return 2 * (s + s * arcRatio(z));
}

function sineNearZero(x: number): number {
  const z = x * x;
  const tail =
    0.00833333333332249 +
    z *
      (-1.984126982985795e-4 +
        z * (2.7557313707070068e-6 + z * (-2.5050760253406863e-8 + z * 1.58969099521155e-10)));
  return x + x * z * (-0.16666666666666632 + z * tail);
}

function cosineNearZero(x: number): number {
  const z = x * x;
  const tail =
    0.0416666666666666 +
    z *
      (-0.001388888888887411 +
        z *
          (2.480158728947673e-5 +
            z * (-2.7557314351390663e-7 + z * (2.087572321298175e-9 + z * -1.1359647557788195e-11))));
  return 1 - 0.5 * z + z * z * tail;
}

function arcRatio(z: number): number {
  const p =
    z *
    (0.16666666666666666 +
      z *
        (-0.3255658186224009 +
          z *
            (0.20121253213486293 +
              z * (-0.04005553450067941 + z * (7.915349942898145e-4 + z * 3.479331075960212e-5)))));
  const q =
    1 +
    z * (-2.403394911734414 + z * (2.0209457602335057 + z * (-0.6882839716054533 + z * 0.07703815055590194)));
  return p / q;
}
