import { Color } from 'three';
import { findDominantJoints } from '../../core/rig/index.ts';
import type { WeightWork } from '../state/weight-work.ts';
import { REACH_STOPS } from './reach-colors.ts';

/** Turns of the hue from one joint to the next: neighbours in the list never look alike. */
const GOLDEN_TURN = 0.381966;

/** A joint's colour, the same wherever it is shown. @returns sRGB as CSS. */
export function getJointColor(joint: number): string {
  return `#${makeJointColor(joint).getHexString()}`;
}

function makeJointColor(joint: number): Color {
  const light = 0.42 + 0.16 * (joint % 3);
  return new Color().setHSL((0.09 + joint * GOLDEN_TURN) % 1, 0.38, light);
}

/** Weights as colours of the points, linear RGB: of one joint from small to large, or by the joint that leads. */
export function colorWeights(work: WeightWork): Float32Array {
  const { dense, jointCount, mesh } = work.worn;
  const { view, joint } = work.store.state;
  const colors = new Float32Array(3 * mesh.pointCount);
  if (view === 'leading') {
    const palette = Array.from({ length: jointCount }, (_, j) => makeJointColor(j).toArray());
    findDominantJoints(dense, jointCount).forEach((leading, p) => {
      colors.set(palette[leading]!, 3 * p);
    });
    return colors;
  }
  const stops = REACH_STOPS.map((stop) => new Color(stop).toArray());
  for (let p = 0; p < mesh.pointCount; p++) {
    const at = 2 * Math.min(1, Math.max(0, dense[jointCount * p + joint]!));
    const from = Math.min(1, Math.floor(at));
    for (let k = 0; k < 3; k++)
      colors[3 * p + k] = stops[from]![k]! + (at - from) * (stops[from + 1]![k]! - stops[from]![k]!);
  }
  return colors;
}
