import type { BandFigures } from '../levels/index.ts';
import { type CrowdCamera, distanceAt } from './crowd-camera.ts';

/** A band of levels of a character as a crowd counts it. */
export interface MemberBand {
  /** The character is at least so many pixels high; 0 of the farthest. */
  from: number;
  /** ms a frame of one core, on the mean of what was played. */
  cost: number;
  /** ms a frame while it goes over from the band before, both simulated; null of the nearest. */
  switchCost: number | null;
}

/** A character of a crowd. */
export interface CrowdMember {
  id: string;
  name: string;
  /** m */
  height: number;
  /** From near to far, at least one. */
  bands: readonly MemberBand[];
}

/** A character as a crowd counts it. @param figures - Of each of its bands. */
export function createMember(
  who: Pick<CrowdMember, 'id' | 'name' | 'height'>,
  bands: readonly { from: number }[],
  figures: readonly Pick<BandFigures, 'cost' | 'work' | 'switchTo'>[],
): CrowdMember {
  return {
    ...who,
    bands: bands.map(({ from }, b) => ({
      from,
      cost: figures[b]!.work ?? figures[b]!.cost.mean,
      switchCost: figures[b]!.switchTo?.cost ?? null,
    })),
  };
}

/** Where a band is, m: from a distance on, up to another. */
export interface BandDistances {
  near: number;
  /** Infinity of the farthest. */
  far: number;
}

/** Distances of the bands of a character, in their order. */
export function listDistances({ height, bands }: CrowdMember, camera: CrowdCamera): BandDistances[] {
  const ends = bands.map(({ from }) => distanceAt(camera, height, from));
  return ends.map((far, b) => ({ near: ends[b - 1] ?? 0, far }));
}

/** At which band a character is at a distance, m. */
export function findBandAt(member: CrowdMember, camera: CrowdCamera, distance: number): number {
  const found = listDistances(member, camera).findIndex(({ far }) => distance <= far);
  return found < 0 ? member.bands.length - 1 : found;
}

/** What one character costs while it goes over at the dearer bound of its band, ms a frame; at its one band what that costs. */
export function findSwitchCost({ bands }: CrowdMember, band: number): number {
  const { cost, switchCost } = bands[band]!;
  return Math.max(cost, switchCost ?? 0, bands[band + 1]?.switchCost ?? 0);
}
