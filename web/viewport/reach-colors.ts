import { Color } from 'three';

/** Small to large max distance, sRGB. */
export const REACH_STOPS = ['#2C1A3D', '#2F6F78', '#F2E6BF'] as const;

const linear = REACH_STOPS.map((stop) => new Color(stop));

/** The reach map as CSS, for the legend. */
export const REACH_GRADIENT = `linear-gradient(90deg, ${REACH_STOPS.join(', ')})`;

/** CSS colour of a share (0 to 1) of the legend. */
export function getReachColor(share: number): string {
  const t = Math.max(0, Math.min(1, share)) * (linear.length - 1);
  const k = Math.min(linear.length - 2, Math.floor(t));
  return `#${linear[k]!.clone()
    .lerp(linear[k + 1]!, t - k)
    .getHexString()}`;
}

/** Mixes the reach map from a scalar per fragment, with a stripe beyond the legend. */
export const REACH_FRAGMENT = `
  vec3 reachLow = vec3(${toGlsl(0)});
  vec3 reachMiddle = vec3(${toGlsl(1)});
  vec3 reachHigh = vec3(${toGlsl(2)});
  float reachShare = vReach / reachTop;
  float reachT = clamp(reachShare, 0.0, 1.0) * 2.0;
  vec3 reachColor = reachT < 1.0 ? mix(reachLow, reachMiddle, reachT) : mix(reachMiddle, reachHigh, reachT - 1.0);
  if (reachShare > 1.001) reachColor *= 0.8 + 0.2 * step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 8.0));
  diffuseColor.rgb = mix(diffuseColor.rgb, reachColor, reachShown);
`;

function toGlsl(stop: number): string {
  const { r, g, b } = linear[stop]!;
  return [r, g, b].map((value) => value.toFixed(5)).join(', ');
}

/** A round top for the legend, metres, that holds the largest value. */
export function fitLegend(values: Float32Array | undefined): number {
  let most = 0;
  for (const value of values ?? []) if (value > most) most = value;
  const steps = [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8, 1, 1.5, 2, 3, 5, 10];
  return steps.find((step) => step >= most - 1e-6) ?? most;
}
