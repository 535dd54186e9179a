import type { CrowdCamera } from './crowd-camera.ts';
import { type CrowdMember, listDistances, type MemberBand } from './crowd-member.ts';
import { type CrowdTarget, countFitting } from './plan-crowd.ts';

/** A size on the screen of a character, as it is written to files. */
export interface ToldSize extends MemberBand {
  /** Where it ends, m; null: without end. */
  toMetres: number | null;
  /** So many of it alone fit a budget; null: any number. */
  fits: number | null;
}

/** What each size costs, at which distance it is, and how many fit. From near to far. */
export function tellSizes(member: CrowdMember, camera: CrowdCamera, target: CrowdTarget): ToldSize[] {
  const distances = listDistances(member, camera);
  return member.bands.map((band, b) => ({
    ...band,
    toMetres: orNull(distances[b]!.far),
    fits: orNull(countFitting(member, b, target)),
  }));
}

/** JSON knows no infinity. */
function orNull(value: number): number | null {
  return Number.isFinite(value) ? value : null;
}
