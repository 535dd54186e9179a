export { CAMERA_DEFAULTS, CAMERA_RANGES, type CrowdCamera, distanceAt, pixelsAt } from './crowd-camera.ts';
export {
  type CrowdMember,
  createMember,
  findBandAt,
  listDistances,
  type MemberBand,
} from './crowd-member.ts';
export {
  CROWD_DEFAULTS,
  type CrowdSettings,
  crowdSettingsField,
  DISTANCE_RANGE,
  MOST_COUNT,
} from './crowd-settings.ts';
export { type CrowdGroup, type CrowdPlan, type CrowdTarget, countFitting, planCrowd } from './plan-crowd.ts';
export { type ToldSize, tellSizes } from './tell-sizes.ts';
