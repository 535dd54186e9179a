/** What a part of the figure is covered with; decides its colour. */
export type Cover = 'skin' | 'shirt' | 'trousers' | 'boots' | 'belt';

/**
 * One tapered capsule of the figure, metres, left side of paired parts. x and z are divided by their scales about
 * the middle of a-b before measuring; `blend` is the width of the smooth union with what came before.
 */
export interface FigurePart {
  name: string;
  cloth: Cover;
  /** Joint that it mainly follows, without its side. */
  joint: string;
  /** Mirrored onto the right side too. */
  isPaired: boolean;
  a: [number, number, number];
  ra: number;
  b: [number, number, number];
  rb: number;
  blend: number;
  scaleX: number;
  scaleZ: number;
}

// biome-ignore format: a table reads better one part a line
export const FIGURE_PARTS: readonly FigurePart[] = [
  { name: 'pelvis', cloth: 'trousers', joint: 'hips', isPaired: false, a: [0, 0.985, 0.002], ra: 0.1064, b: [0, 0.925, -0.01], rb: 0.1064, blend: 0.108, scaleX: 1.3, scaleZ: 0.9 },
  { name: 'waist', cloth: 'shirt', joint: 'waist', isPaired: false, a: [0, 1.12, 0.004], ra: 0.0918, b: [0, 1.03, 0.002], rb: 0.0936, blend: 0.12, scaleX: 1.24, scaleZ: 0.84 },
  { name: 'ribs', cloth: 'shirt', joint: 'ribs', isPaired: false, a: [0, 1.285, -0.006], ra: 0.1178, b: [0, 1.17, 0], rb: 0.1026, blend: 0.12, scaleX: 1.25, scaleZ: 0.86 },
  { name: 'chest', cloth: 'shirt', joint: 'chest', isPaired: false, a: [0, 1.355, -0.014], ra: 0.097, b: [0, 1.28, -0.004], rb: 0.1183, blend: 0.108, scaleX: 1.42, scaleZ: 0.84 },
  { name: 'pec', cloth: 'shirt', joint: 'chest', isPaired: true, a: [0.06, 1.315, 0.05], ra: 0.055, b: [0.095, 1.335, 0.04], rb: 0.048, blend: 0.084, scaleX: 1, scaleZ: 1 },
  { name: 'shoulderblade', cloth: 'shirt', joint: 'chest', isPaired: true, a: [0.085, 1.34, -0.07], ra: 0.052, b: [0.08, 1.25, -0.066], rb: 0.044, blend: 0.084, scaleX: 1, scaleZ: 1 },
  { name: 'trap', cloth: 'shirt', joint: 'collar', isPaired: true, a: [0.025, 1.465, -0.032], ra: 0.042, b: [0.135, 1.418, -0.024], rb: 0.044, blend: 0.072, scaleX: 1, scaleZ: 1 },
  { name: 'deltoid', cloth: 'shirt', joint: 'arm', isPaired: true, a: [0.165, 1.396, -0.02], ra: 0.0589, b: [0.222, 1.335, -0.022], rb: 0.0475, blend: 0.06, scaleX: 1, scaleZ: 1 },
  { name: 'arm', cloth: 'shirt', joint: 'arm', isPaired: true, a: [0.185, 1.385, -0.02], ra: 0.04929, b: [0.362, 1.208, -0.024], rb: 0.0372, blend: 0.042, scaleX: 1, scaleZ: 1 },
  { name: 'bicep', cloth: 'shirt', joint: 'arm', isPaired: true, a: [0.235, 1.335, -0.006], ra: 0.0418, b: [0.3, 1.27, -0.01], rb: 0.038, blend: 0.048, scaleX: 1, scaleZ: 1 },
  { name: 'forearm', cloth: 'shirt', joint: 'forearm', isPaired: true, a: [0.368, 1.202, -0.025], ra: 0.04, b: [0.43, 1.14, -0.018], rb: 0.043, blend: 0.042, scaleX: 1, scaleZ: 1 },
  { name: 'forearm2', cloth: 'shirt', joint: 'forearm', isPaired: true, a: [0.43, 1.14, -0.018], ra: 0.042, b: [0.545, 1.025, 0], rb: 0.027, blend: 0.036, scaleX: 1, scaleZ: 1 },
  { name: 'palm', cloth: 'skin', joint: 'wrist', isPaired: true, a: [0.55, 1.02, 0.002], ra: 0.027, b: [0.602, 0.962, 0.006], rb: 0.031, blend: 0.024, scaleX: 1, scaleZ: 1 },
  { name: 'thumb', cloth: 'skin', joint: 'thumb', isPaired: true, a: [0.56, 1.005, 0.022], ra: 0.017, b: [0.588, 0.962, 0.052], rb: 0.012, blend: 0.018, scaleX: 1, scaleZ: 1 },
  { name: 'index', cloth: 'skin', joint: 'index', isPaired: true, a: [0.612, 0.957, 0.026], ra: 0.0135, b: [0.65, 0.89, 0.034], rb: 0.01, blend: 0.012, scaleX: 1, scaleZ: 1 },
  { name: 'middle', cloth: 'skin', joint: 'middle', isPaired: true, a: [0.618, 0.95, 0.009], ra: 0.014, b: [0.662, 0.878, 0.013], rb: 0.01, blend: 0.012, scaleX: 1, scaleZ: 1 },
  { name: 'ring', cloth: 'skin', joint: 'ring', isPaired: true, a: [0.616, 0.949, -0.008], ra: 0.0135, b: [0.656, 0.882, -0.008], rb: 0.0098, blend: 0.012, scaleX: 1, scaleZ: 1 },
  { name: 'little', cloth: 'skin', joint: 'little', isPaired: true, a: [0.609, 0.951, -0.023], ra: 0.0125, b: [0.642, 0.898, -0.027], rb: 0.009, blend: 0.012, scaleX: 1, scaleZ: 1 },
  { name: 'neck', cloth: 'skin', joint: 'neck', isPaired: false, a: [0, 1.43, -0.03], ra: 0.057, b: [0, 1.55, -0.01], rb: 0.0513, blend: 0.06, scaleX: 1, scaleZ: 1 },
  { name: 'skull', cloth: 'skin', joint: 'head', isPaired: false, a: [0, 1.672, -0.016], ra: 0.098, b: [0, 1.65, 0.002], rb: 0.094, blend: 0.048, scaleX: 0.88, scaleZ: 1.06 },
  { name: 'face', cloth: 'skin', joint: 'head', isPaired: false, a: [0, 1.64, 0.03], ra: 0.078, b: [0, 1.572, 0.04], rb: 0.05, blend: 0.06, scaleX: 0.86, scaleZ: 1.02 },
  { name: 'jaw', cloth: 'skin', joint: 'head', isPaired: true, a: [0, 1.556, 0.058], ra: 0.028, b: [0.04, 1.59, 0], rb: 0.03, blend: 0.06, scaleX: 1, scaleZ: 1 },
  { name: 'nose', cloth: 'skin', joint: 'head', isPaired: false, a: [0, 1.648, 0.104], ra: 0.01, b: [0, 1.622, 0.112], rb: 0.0135, blend: 0.024, scaleX: 1, scaleZ: 1 },
  { name: 'brow', cloth: 'skin', joint: 'head', isPaired: false, a: [-0.03, 1.668, 0.092], ra: 0.012, b: [0.03, 1.668, 0.092], rb: 0.012, blend: 0.036, scaleX: 1, scaleZ: 1 },
  { name: 'mouth', cloth: 'skin', joint: 'head', isPaired: false, a: [-0.012, 1.588, 0.086], ra: 0.011, b: [0.012, 1.588, 0.086], rb: 0.011, blend: 0.036, scaleX: 1, scaleZ: 1 },
  { name: 'ear', cloth: 'skin', joint: 'head', isPaired: true, a: [0.083, 1.64, -0.012], ra: 0.013, b: [0.083, 1.615, -0.008], rb: 0.011, blend: 0.0144, scaleX: 1, scaleZ: 1 },
  { name: 'glute', cloth: 'trousers', joint: 'hips', isPaired: true, a: [0.068, 0.925, -0.048], ra: 0.0874, b: [0.085, 0.87, -0.034], rb: 0.0836, blend: 0.096, scaleX: 1, scaleZ: 1 },
  { name: 'thigh', cloth: 'trousers', joint: 'leg', isPaired: true, a: [0.09, 0.89, -0.002], ra: 0.08556, b: [0.102, 0.54, 0.008], rb: 0.05208, blend: 0.072, scaleX: 1, scaleZ: 1 },
  { name: 'quad', cloth: 'trousers', joint: 'leg', isPaired: true, a: [0.096, 0.78, 0.02], ra: 0.06808, b: [0.102, 0.63, 0.018], rb: 0.0552, blend: 0.072, scaleX: 1, scaleZ: 1 },
  { name: 'knee', cloth: 'trousers', joint: 'shin', isPaired: true, a: [0.102, 0.525, 0.012], ra: 0.05035, b: [0.102, 0.47, 0.01], rb: 0.0475, blend: 0.06, scaleX: 1, scaleZ: 1 },
  { name: 'shin', cloth: 'trousers', joint: 'shin', isPaired: true, a: [0.102, 0.47, 0.004], ra: 0.048, b: [0.105, 0.1, -0.018], rb: 0.03456, blend: 0.048, scaleX: 1, scaleZ: 1 },
  { name: 'calf', cloth: 'trousers', joint: 'shin', isPaired: true, a: [0.105, 0.4, -0.026], ra: 0.05194, b: [0.106, 0.27, -0.022], rb: 0.04312, blend: 0.06, scaleX: 1, scaleZ: 1 },
  { name: 'boot', cloth: 'boots', joint: 'shin', isPaired: true, a: [0.105, 0.31, -0.014], ra: 0.059, b: [0.106, 0.1, -0.016], rb: 0.051, blend: 0.018, scaleX: 1, scaleZ: 1 },
  { name: 'cuff', cloth: 'boots', joint: 'shin', isPaired: true, a: [0.105, 0.325, -0.014], ra: 0.063, b: [0.105, 0.305, -0.014], rb: 0.063, blend: 0.0096, scaleX: 1, scaleZ: 1 },
  { name: 'heel', cloth: 'boots', joint: 'heel', isPaired: true, a: [0.106, 0.06, -0.036], ra: 0.047, b: [0.106, 0.045, -0.03], rb: 0.045, blend: 0.036, scaleX: 1, scaleZ: 1 },
  { name: 'foot', cloth: 'boots', joint: 'heel', isPaired: true, a: [0.107, 0.062, -0.005], ra: 0.05, b: [0.112, 0.04, 0.105], rb: 0.043, blend: 0.036, scaleX: 1, scaleZ: 1 },
  { name: 'toes', cloth: 'boots', joint: 'toes', isPaired: true, a: [0.112, 0.04, 0.105], ra: 0.043, b: [0.114, 0.035, 0.15], rb: 0.036, blend: 0.024, scaleX: 1, scaleZ: 1 },
  { name: 'eyeridge', cloth: 'skin', joint: 'head', isPaired: true, a: [0.02, 1.662, 0.088], ra: 0.011, b: [0.052, 1.658, 0.068], rb: 0.009, blend: 0.024, scaleX: 1, scaleZ: 1 },
  { name: 'cheek', cloth: 'skin', joint: 'head', isPaired: true, a: [0.04, 1.622, 0.076], ra: 0.018, b: [0.055, 1.632, 0.05], rb: 0.018, blend: 0.04, scaleX: 1, scaleZ: 1 },
  { name: 'chin', cloth: 'skin', joint: 'head', isPaired: false, a: [-0.008, 1.556, 0.083], ra: 0.016, b: [0.008, 1.556, 0.083], rb: 0.016, blend: 0.03, scaleX: 1, scaleZ: 1 },
  { name: 'collar', cloth: 'shirt', joint: 'neck', isPaired: false, a: [0, 1.475, -0.03], ra: 0.066, b: [0, 1.45, -0.03], rb: 0.076, blend: 0.02, scaleX: 1, scaleZ: 1 },
  { name: 'shirthem', cloth: 'shirt', joint: 'hips', isPaired: false, a: [0, 0.99, -0.004], ra: 0.118, b: [0, 0.955, -0.006], rb: 0.122, blend: 0.012, scaleX: 1.34, scaleZ: 0.96 },
  { name: 'belt', cloth: 'belt', joint: 'waist', isPaired: false, a: [0, 1.045, 0.001], ra: 0.1, b: [0, 1.02, 0.001], rb: 0.1035, blend: 0.006, scaleX: 1.3, scaleZ: 0.93 },
  { name: 'sleeve', cloth: 'shirt', joint: 'forearm', isPaired: true, a: [0.43, 1.14, -0.018], ra: 0.045, b: [0.515, 1.055, -0.005], rb: 0.04, blend: 0.014, scaleX: 1, scaleZ: 1 },
  { name: 'sleevecuff', cloth: 'shirt', joint: 'forearm', isPaired: true, a: [0.515, 1.055, -0.005], ra: 0.042, b: [0.532, 1.038, -0.002], rb: 0.042, blend: 0.006, scaleX: 1, scaleZ: 1 },
  { name: 'trouser', cloth: 'trousers', joint: 'shin', isPaired: true, a: [0.104, 0.44, -0.006], ra: 0.066, b: [0.105, 0.345, -0.012], rb: 0.074, blend: 0.03, scaleX: 1, scaleZ: 1 },
  { name: 'kneefold', cloth: 'trousers', joint: 'shin', isPaired: true, a: [0.102, 0.52, -0.012], ra: 0.052, b: [0.102, 0.49, -0.014], rb: 0.05, blend: 0.02, scaleX: 1, scaleZ: 1 },
];
