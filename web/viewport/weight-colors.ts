import { Color, SRGBColorSpace } from 'three';
import { findDominantJoints } from '../../core/rig/index.ts';
import type { WeightWork } from '../state/weight-work.ts';

/** Weight of one joint from none to all, sRGB: undyed cloth to ink blue, the other way round than a reach map. */
export const WEIGHT_STOPS = ['#EFE8DA', '#7F93B0', '#1B2A4A'] as const;
/** Bars of share. */
export const WEIGHT_BAR = WEIGHT_STOPS[1];
/** The same as CSS, for the legend. */
export const WEIGHT_GRADIENT = `linear-gradient(90deg, ${WEIGHT_STOPS.join(', ')})`;

/** Turns of the hue from one joint to the next: neighbours in the list never look alike. */
const GOLDEN_TURN = 0.381966;
/** Hues run from red to violet, short of pink. */
const MOST_HUE = 0.78;

/** A joint's colour, the same wherever it is shown. @returns sRGB as CSS. */
export function getJointColor(joint: number): string {
  return `#${makeJointColor(joint).getHexString()}`;
}

function makeJointColor(joint: number): Color {
  const light = 0.36 + 0.13 * (joint % 3);
  const hue = MOST_HUE * ((0.09 + joint * GOLDEN_TURN) % 1);
  return new Color().setHSL(hue, 0.4, light, SRGBColorSpace);
}

/** Weights as colours of the points, linear RGB: of one joint from small to large, or by the joint that leads. */
export function colorWeights(work: WeightWork): Float32Array {
  const { dense, jointCount, mesh } = work.bound;
  const { view, joint } = work.store.state;
  const colors = new Float32Array(3 * mesh.pointCount);
  if (view === 'leading') {
    const palette = Array.from({ length: jointCount }, (_, j) => makeJointColor(j).toArray());
    findDominantJoints(dense, jointCount).forEach((dominantJoint, p) => {
      colors.set(palette[dominantJoint]!, 3 * p);
    });
    return colors;
  }
  const stops = WEIGHT_STOPS.map((stop) => new Color(stop).toArray());
  for (let p = 0; p < mesh.pointCount; p++) {
    const at = 2 * Math.min(1, Math.max(0, dense[jointCount * p + joint]!));
    const from = Math.min(1, Math.floor(at));
    for (let k = 0; k < 3; k++)
      colors[3 * p + k] = stops[from]![k]! + (at - from) * (stops[from + 1]![k]! - stops[from]![k]!);
  }
  return colors;
}
