import { Color, type MeshLambertMaterial } from 'three';
import { COVERED, FARTHEST, OVERHUNG } from '../../core/body-figures/index.ts';

/** Covered skin, bare skin and skin that a body stands out of, sRGB. */
const STOPS = { covered: '#66645C', bare: '#B97F10', overhung: '#2C1A3D' } as const;

/** So far outside of, and so deep inside bodies, m, the colours are full. */
export const FULL_BARE = 0.03;
export const FULL_OVERHANG = 0.03;

/** From overhung to bare, as CSS, for the legend. */
export const FIT_GRADIENT = `linear-gradient(90deg, ${STOPS.overhung}, ${STOPS.covered} 34%, ${STOPS.covered} 66%, ${STOPS.bare})`;

/** What stands for skin where no cloth comes, m: shaders do not tell NaN reliably. */
export const NOT_LOOKED_AT = 1000;

/** Distances from bodies, m, as an attribute. */
export function toFitValues(distances: Float32Array): Float32Array {
  return distances.map((value) => (Number.isNaN(value) ? NOT_LOOKED_AT : Math.min(FARTHEST, value)));
}

/** A material that shows, when asked to, how bodies cover the skin; what was added to it before stays. @returns What switches it: 0 or 1. */
export function addFitColors(material: MeshLambertMaterial): { value: number } {
  const shown = { value: 0 };
  const { onBeforeCompile } = material;
  const key = material.customProgramCacheKey();
  material.onBeforeCompile = (shader, renderer) => {
    onBeforeCompile.call(material, shader, renderer);
    shader.uniforms.fitShown = shown;
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', '#include <common>\nattribute float fit;\nvarying float vFit;')
      .replace('#include <begin_vertex>', '#include <begin_vertex>\nvFit = fit;');
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <common>', '#include <common>\nvarying float vFit;\nuniform float fitShown;')
      .replace('#include <color_fragment>', `#include <color_fragment>\n${FRAGMENT}`);
  };
  material.customProgramCacheKey = () => `${key} fit`;
  return shown;
}

/** Bare skin has dots, besides its colour. */
const FRAGMENT = `
  if (fitShown > 0.5 && vFit < 0.5) {
    float fitBare = clamp((vFit - ${COVERED.toFixed(4)}) / ${(FULL_BARE - COVERED).toFixed(4)}, 0.0, 1.0);
    float fitDeep = clamp((-vFit - ${OVERHUNG.toFixed(4)}) / ${(FULL_OVERHANG - OVERHUNG).toFixed(4)}, 0.0, 1.0);
    vec3 fitColor = mix(vec3(${toGlsl(STOPS.covered)}), vec3(${toGlsl(STOPS.bare)}), step(0.0001, fitBare) * (0.35 + 0.65 * fitBare));
    fitColor = mix(fitColor, vec3(${toGlsl(STOPS.overhung)}), step(0.0001, fitDeep) * (0.35 + 0.65 * fitDeep));
    vec2 fitCell = fract(gl_FragCoord.xy / 7.0) - 0.5;
    if (fitBare > 0.0 && dot(fitCell, fitCell) < 0.05) fitColor = vec3(0.96, 0.93, 0.86);
    diffuseColor.rgb = fitColor;
  }
`;

function toGlsl(stop: string): string {
  return new Color(stop)
    .toArray()
    .map((value) => value.toFixed(5))
    .join(', ');
}
