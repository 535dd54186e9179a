import { MeshLambertMaterial } from 'three';
import { MOST_CONTOURS, REACH_FRAGMENT, REACH_UNIFORMS } from './reach-colors.ts';

/** Skinning with eight influences: three's own shader knows four. */
const EIGHT_SKIN_BASE = `
#ifdef USE_SKINNING
  attribute vec4 skinIndexB;
  attribute vec4 skinWeightB;
#endif`;

/** A material whose skinning also adds a second set of four influences. */
export function addSecondInfluences(material: MeshLambertMaterial): void {
  material.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader
      .replace('#include <skinning_pars_vertex>', `#include <skinning_pars_vertex>${EIGHT_SKIN_BASE}`)
      .replace(
        '#include <skinnormal_vertex>',
        `#ifdef USE_SKINNING
          mat4 skinMatrix = mat4(0.0);
          skinMatrix += skinWeight.x * boneMatX + skinWeight.y * boneMatY + skinWeight.z * boneMatZ + skinWeight.w * boneMatW;
          skinMatrix += skinWeightB.x * getBoneMatrix(skinIndexB.x) + skinWeightB.y * getBoneMatrix(skinIndexB.y);
          skinMatrix += skinWeightB.z * getBoneMatrix(skinIndexB.z) + skinWeightB.w * getBoneMatrix(skinIndexB.w);
          skinMatrix = bindMatrixInverse * skinMatrix * bindMatrix;
          objectNormal = vec4(skinMatrix * vec4(objectNormal, 0.0)).xyz;
        #endif`,
      )
      .replace(
        '#include <skinning_vertex>',
        `#ifdef USE_SKINNING
          transformed = (skinMatrix * vec4(transformed, 1.0)).xyz;
        #endif`,
      );
  };
  material.customProgramCacheKey = () => 'eight-influences';
}

/** A garment's material: its own colour, or the reach map when shown. */
export class GarmentMaterial extends MeshLambertMaterial {
  readonly reach = {
    reachShown: { value: 0 },
    reachTop: { value: 0.6 },
    reachDiffers: { value: 0 },
    contours: { value: new Float32Array(MOST_CONTOURS) },
    contourCount: { value: 0 },
  };

  constructor(parameters: ConstructorParameters<typeof MeshLambertMaterial>[0]) {
    super(parameters);
    this.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.reach);
      shader.vertexShader = shader.vertexShader
        .replace('#include <common>', '#include <common>\nattribute float reach;\nvarying float vReach;')
        .replace('#include <begin_vertex>', '#include <begin_vertex>\nvReach = reach;');
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <common>', `#include <common>\n${REACH_UNIFORMS}`)
        .replace('#include <color_fragment>', `#include <color_fragment>\n${REACH_FRAGMENT}`);
    };
    this.customProgramCacheKey = () => 'garment-reach';
  }

  /** Lines where the value shown passes these. */
  setContours(values: readonly number[]): void {
    const shown = values.slice(0, MOST_CONTOURS);
    this.reach.contours.value.set(shown);
    this.reach.contourCount.value = shown.length;
  }
}
