import { createWorkCounts, NO_RUN_TIMES } from '../run/index.ts';
import { combineGarments, type GarmentFrame, type TrialFrame } from './trial-frame.ts';

/** A frame of garments of which only so much is said; the rest is 0. */
export function createFrame(
  time: number,
  garments: readonly (Pick<GarmentFrame, 'garmentId'> & Partial<GarmentFrame>)[],
): TrialFrame {
  const whole = garments.map(
    (garment): GarmentFrame => ({
      showThrough: 0,
      penetration: 0,
      penetrationArea: 0,
      layers: 0,
      stretch: 0,
      worstEdge: 0,
      jitter: 0,
      scatter: null,
      contacts: 0,
      cost: 0,
      places: {},
      ...garment,
    }),
  );
  const work = {
    frames: 1,
    seconds: 1 / 60,
    joints: 0,
    garments: garments.map(({ garmentId }) => ({ garmentId, counts: createWorkCounts(), bodies: [] })),
  };
  return {
    time,
    ...combineGarments(whole),
    garments: whole,
    times: { ...NO_RUN_TIMES },
    garmentTimes: whole.map(() => 0),
    work,
  };
}
