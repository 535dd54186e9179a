import { type DistanceFunction, smoothMin } from './distance.ts';

type Point = readonly [number, number, number];

/** How a mask is cut: each character wears its own. Metres, mirrored in x. */
export interface MaskCut {
  /** How much narrower than its middle it is at the chin, share. */
  taper: number;
  /** Radius of the ridge at its upper and its lower end. */
  ridge: readonly [number, number];
  /** Outer end of the brow, and its radius. */
  browEnd: Point;
  browRadius: number;
  /** Half width and half height of an eye's slit, and how far its outer end is lifted (rise over run). */
  slit: readonly [number, number];
  slitLift: number;
  /** Half width of the mouth's slit. */
  mouth: number;
}

export const PILOT_CUT: MaskCut = {
  taper: 0.28,
  ridge: [0.0055, 0.0085],
  browEnd: [0.066, 1.664, 0.092],
  browRadius: 0.0065,
  slit: [0.0175, 0.0038],
  slitLift: 0.16,
  mouth: 0.015,
};
export const LAMPLIGHTER_CUT: MaskCut = {
  taper: 0.2,
  ridge: [0.008, 0.0055],
  browEnd: [0.07, 1.678, 0.088],
  browRadius: 0.008,
  slit: [0.021, 0.003],
  slitLift: -0.12,
  mouth: 0.02,
};

const MIDDLE: Point = [0, 1.632, 0.007];
const HALF: Point = [0.099, 0.139, 0.125];
/** Its upper half is this much longer; it ends under the brim of the hat. */
const UPPER_HALF = 0.15;
const TOP = 1.687;
const RIDGE: readonly [Point, Point] = [
  [0, 1.676, 0.122],
  [0, 1.604, 0.1335],
];
const BROW_START: Point = [0.006, 1.674, 0.124];
const EYE: Point = [0.036, 1.645, 0];
const MOUTH_HEIGHT = 1.563;
const THICKNESS = 0.006;
/** Edges of cuts are rounded by this. */
const EDGE = 0.0024;

/** The outside of a mask as a solid: an egg, narrow at the chin, with a ridge and brows that grow out of it. */
export function createMaskSolid(cut: MaskCut): DistanceFunction {
  return (x, y, z) => {
    const side = Math.abs(x);
    const egg = measureEgg(x, y, z, cut.taper);
    const ridge = measureCone(side, y, z, RIDGE[0], RIDGE[1], cut.ridge[0], cut.ridge[1]);
    const brow = measureCone(side, y, z, BROW_START, cut.browEnd, cut.browRadius, 0.6 * cut.browRadius);
    return smoothMin(smoothMin(egg, brow, 0.014), ridge, 0.012);
  };
}

/** A mask: a shell of the solid, open behind, with slits for the eyes and the mouth. */
export function createMaskField(cut: MaskCut): DistanceFunction {
  const solid = createMaskSolid(cut);
  return (x, y, z) => {
    const side = Math.abs(x);
    const outside = solid(x, y, z);
    const inside = measureEgg(x, y, z, cut.taper) + THICKNESS;
    const shell = smoothMax(outside, -inside, 0.003);
    const open = smoothMax(smoothMax(shell, getRimDepth(y) - z, 0.003), y - TOP, 0.003);
    const lift = EYE[1] + cut.slitLift * (side - EYE[0]);
    const eye = measureSlot(side - EYE[0], y - lift, cut.slit);
    const mouth = measureSlot(x, y - MOUTH_HEIGHT, [cut.mouth, 0.0022]);
    return smoothMax(open, -Math.min(eye, mouth), EDGE);
  };
}

/** Depth (z) at which the masks end, at a height. */
function getRimDepth(y: number): number {
  return 0.03 + 0.1 * Math.abs(y - 1.61);
}

/** A hood over skull and neck, with a roll along the rim of the mask. */
export function createHoodField(cut: MaskCut): DistanceFunction {
  const solid = createMaskSolid(cut);
  return (x, y, z) => {
    const skull = measureEllipsoid(x, y - 1.662, z + 0.012, [0.099, 0.118, 0.122]);
    const jaw = measureEllipsoid(x, y - 1.59, z - 0.004, [0.079, 0.074, 0.086]);
    const neck = measureCone(x, y, z, [0, 1.45, -0.027], [0, 1.6, -0.016], 0.061, 0.07);
    // Folds where it is gathered at the neck.
    const folds = 0.0022 * Math.sin(14 * Math.atan2(x, z + 0.02) + 0.7) * smoothStep(1.575, 1.5, y);
    const head = smoothMin(smoothMin(skull, jaw, 0.05), neck, 0.05) + folds;
    const rim = 0.002 + getRimDepth(y);
    const cutOff = smoothMax(head, z - rim - 0.004, 0.006);
    const roll = smoothMax(Math.hypot(solid(x, y, z) - 0.002, z - rim) - 0.0085, y - TOP, 0.006);
    return smoothMax(smoothMin(cutOff, roll, 0.01), HOOD_END - y, 0.004);
  };
}

/** The hood ends here, in the collar of the shirt. */
const HOOD_END = 1.502;

function measureEgg(x: number, y: number, z: number, taper: number): number {
  const narrow = 1 - taper * smoothStep(MIDDLE[1] + 0.03, MIDDLE[1] - HALF[1], y);
  const above = y - MIDDLE[1];
  const half = above > 0 ? UPPER_HALF : HALF[1];
  const [px, py, pz] = [x / (narrow * HALF[0]), above / half, (z - MIDDLE[2]) / HALF[2]];
  // Fuller towards the chin than an ellipsoid.
  const value = px * px + py ** 4 + pz * pz;
  const slope = Math.hypot((2 * px) / (narrow * HALF[0]), (4 * py ** 3) / half, (2 * pz) / HALF[2]);
  return slope > 8 ? (value - 1) / slope : -0.05;
}

/** A first-order distance: exact on the surface, as close to it as these thin shells need. */
function measureEllipsoid(x: number, y: number, z: number, half: Point): number {
  const value = Math.hypot(x / half[0], y / half[1], z / half[2]);
  const slope = Math.hypot(x / half[0] ** 2, y / half[1] ** 2, z / half[2] ** 2);
  return slope > 0 ? (value * (value - 1)) / slope : -Math.min(...half);
}

/** A tapered capsule. */
function measureCone(
  x: number,
  y: number,
  z: number,
  [ax, ay, az]: Point,
  [bx, by, bz]: Point,
  fromRadius: number,
  toRadius: number,
): number {
  const [dx, dy, dz] = [bx - ax, by - ay, bz - az];
  const along = (dx * (x - ax) + dy * (y - ay) + dz * (z - az)) / (dx * dx + dy * dy + dz * dz);
  const t = Math.max(0, Math.min(1, along));
  const away = Math.hypot(x - ax - t * dx, y - ay - t * dy, z - az - t * dz);
  return away - (fromRadius + t * (toRadius - fromRadius));
}

/** A slot with round ends that goes through from front to back. @param half - Half width, half height. */
function measureSlot(x: number, y: number, [width, height]: readonly [number, number]): number {
  return Math.hypot(Math.max(0, Math.abs(x) - (width - height)), y) - height;
}

function smoothMax(p: number, q: number, k: number): number {
  return -smoothMin(-p, -q, k);
}

/** From 0 at `from` to 1 at `to`, level at both. */
export function smoothStep(from: number, to: number, value: number): number {
  const t = Math.max(0, Math.min(1, (value - from) / (to - from)));
  return t * t * (3 - 2 * t);
}
