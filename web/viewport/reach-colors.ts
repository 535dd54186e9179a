import { Color } from 'three';

/** Small to large max distance, sRGB. */
export const REACH_STOPS = ['#2C1A3D', '#2F6F78', '#F2E6BF'] as const;

const linear = REACH_STOPS.map((stop) => new Color(stop));

/** The reach map as CSS, for the legend. */
export const REACH_GRADIENT = `linear-gradient(90deg, ${REACH_STOPS.join(', ')})`;

/** A difference as CSS, from less to more. */
export const DIFFERENCE_GRADIENT = `linear-gradient(90deg, ${REACH_STOPS[0]}, #D6CFBD, ${REACH_STOPS[1]})`;

/** CSS colour of a share (0 to 1) of the legend. */
export function getReachColor(share: number): string {
  const t = Math.max(0, Math.min(1, share)) * (linear.length - 1);
  const k = Math.min(linear.length - 2, Math.floor(t));
  return `#${linear[k]!.clone()
    .lerp(linear[k + 1]!, t - k)
    .getHexString()}`;
}

/** Contour lines that a map shows at once. */
export const MOST_CONTOURS = 8;

export const REACH_UNIFORMS = `
  varying float vReach;
  uniform float reachShown;
  uniform float reachTop;
  uniform float reachDiffers;
  uniform float contours[${MOST_CONTOURS}];
  uniform int contourCount;
`;

/**
 * Mixes the reach map from a scalar per fragment, with a stripe beyond the legend and contour lines one to two picture
 * elements wide. A difference to another map goes from plum (less) over paper to teal (more).
 */
export const REACH_FRAGMENT = `
  if (reachShown > 0.0) {
  vec3 reachLow = vec3(${toGlsl(0)});
  vec3 reachMiddle = vec3(${toGlsl(1)});
  vec3 reachHigh = vec3(${toGlsl(2)});
  float reachShare = vReach / reachTop;
  float reachT = clamp(reachShare, 0.0, 1.0) * 2.0;
  vec3 reachColor = reachT < 1.0 ? mix(reachLow, reachMiddle, reachT) : mix(reachMiddle, reachHigh, reachT - 1.0);
  if (reachDiffers > 0.5) {
    float reachMore = clamp(abs(reachShare), 0.0, 1.0);
    reachColor = mix(vec3(0.84, 0.81, 0.74), reachShare < 0.0 ? reachLow : reachMiddle, sqrt(reachMore));
  }
  if (abs(reachShare) > 1.001) reachColor *= 0.8 + 0.2 * step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 8.0));
  if (contourCount > 0) {
  float reachWidth = max(fwidth(vReach), 1e-7);
  for (int k = 0; k < ${MOST_CONTOURS}; k++) {
    if (k >= contourCount) break;
    float reachLine = 1.0 - clamp(abs(vReach - contours[k]) / reachWidth - 0.4, 0.0, 1.0);
    // Light on dark and dark on light.
    vec3 reachInk = reachShare < 0.35 ? vec3(0.95, 0.93, 0.87) : vec3(0.02);
    reachColor = mix(reachColor, reachInk, 0.85 * reachLine);
  }
  }
  diffuseColor.rgb = mix(diffuseColor.rgb, reachColor, reachShown);
  }
`;

function toGlsl(stop: number): string {
  const { r, g, b } = linear[stop]!;
  return [r, g, b].map((value) => value.toFixed(5)).join(', ');
}
