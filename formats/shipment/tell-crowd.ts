import { type CrowdCamera, type CrowdMember, type CrowdTarget, tellSizes } from '../../core/crowd/index.ts';
import type { ShippedCrowd } from './cloth-extension.ts';

/** What a character was measured to cost at each size, and how many of it fit, as it is shipped. */
export function tellCrowd(
  member: CrowdMember,
  camera: CrowdCamera,
  target: CrowdTarget & { name: string },
): ShippedCrowd {
  return {
    target: target.name,
    budgetMilliseconds: target.budget,
    cores: target.cores,
    ...camera,
    height: member.height,
    bands: tellSizes(member, camera, target).map(({ from, toMetres, cost, switchCost, fits }) => ({
      fromPixels: from,
      toMetres,
      costMilliseconds: cost,
      switchMilliseconds: switchCost,
      fits,
    })),
  };
}
