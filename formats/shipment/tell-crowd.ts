import {
  type CrowdCamera,
  type CrowdMember,
  type CrowdTarget,
  countFitting,
  listDistances,
} from '../../core/crowd/index.ts';
import type { ShippedCrowd } from './cloth-extension.ts';

/** What a character was measured to cost at each size, and how many of it fit, as it is shipped. */
export function tellCrowd(
  member: CrowdMember,
  camera: CrowdCamera,
  target: CrowdTarget & { name: string },
): ShippedCrowd {
  const distances = listDistances(member, camera);
  const orNull = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    target: target.name,
    budgetMilliseconds: target.budget,
    cores: target.cores,
    ...camera,
    height: member.height,
    bands: member.bands.map(({ from, cost, switchCost }, b) => ({
      fromPixels: from,
      toMetres: orNull(distances[b]!.far),
      costMilliseconds: cost,
      switchMilliseconds: switchCost,
      fits: orNull(countFitting(member, b, target)),
    })),
  };
}
