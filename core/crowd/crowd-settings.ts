import { array, number, object, string } from 'yup';
import { CAMERA_DEFAULTS, CAMERA_RANGES, type CrowdCamera } from './crowd-camera.ts';
import type { CrowdGroup } from './plan-crowd.ts';

/** What is planned for a project: how it is looked at, and who stands where. */
export interface CrowdSettings {
  camera: CrowdCamera;
  groups: readonly CrowdGroup[];
}

/** Nobody, under the usual camera. */
export const CROWD_DEFAULTS: CrowdSettings = { camera: CAMERA_DEFAULTS, groups: [] };

/** Of one group. */
export const MOST_COUNT = 1000;
/** m */
export const DISTANCE_RANGE = [0.1, 10_000] as const;

const distanceField = number().required().min(DISTANCE_RANGE[0]).max(DISTANCE_RANGE[1]);

export const crowdSettingsField = object({
  camera: object({
    fieldOfView: number().required().min(CAMERA_RANGES.fieldOfView[0]).max(CAMERA_RANGES.fieldOfView[1]),
    screenHeight: number()
      .required()
      .integer()
      .min(CAMERA_RANGES.screenHeight[0])
      .max(CAMERA_RANGES.screenHeight[1]),
  })
    .noUnknown()
    .required(),
  groups: array(
    object({
      memberId: string().required().max(80),
      count: number().required().integer().min(0).max(MOST_COUNT),
      near: distanceField,
      far: distanceField,
    })
      .noUnknown()
      .required(),
  )
    .required()
    .max(50),
}).noUnknown();
