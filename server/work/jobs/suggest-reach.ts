import type { RecordId } from '../../../core/document/index.ts';
import { measureReachNeed, type SuggestReachOptions, setUpRun, shapeReach } from '../../../core/run/index.ts';
import { finish } from './finish.ts';
import type { KnownSubject } from './subject.ts';

export interface ReachRequest {
  garmentId: RecordId;
  /** Picked vertices, by welded number; null: what is held, or the highest border. */
  seam: { count: number; points: readonly number[] } | null;
  clips: readonly number[];
}

/** How far the points of a garment want to go on one clip. */
export interface NeedReachJob {
  request: ReachRequest;
  clip: number;
}

/** The map that comes of what all clips need. */
export interface ShapeReachJob {
  request: ReachRequest;
  needs: readonly Float32Array[];
}

/** @param onDone - Told the share that is done. */
export function needReach(
  { document, character, cache }: KnownSubject,
  { request, clip }: NeedReachJob,
  onDone: (share: number) => void,
): Float32Array {
  return finish(measureReachNeed(setUpRun(document, character, { cache }), toOptions(request), clip), onDone);
}

/** @returns Metres, by welded vertex. */
export function shapeMap(
  { document, character, cache }: KnownSubject,
  { request, needs }: ShapeReachJob,
): Float32Array {
  return shapeReach(setUpRun(document, character, { cache }), toOptions(request), needs);
}

function toOptions({ garmentId, seam }: ReachRequest): SuggestReachOptions {
  if (!seam) return { garmentId, seam: null };
  const points = new Uint8Array(seam.count);
  for (const point of seam.points) points[point] = 1;
  return { garmentId, seam: points };
}
