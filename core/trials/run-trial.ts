import { visitStrains } from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import { type CharacterRun, type RunSetup, startRun, sumTimes } from '../run/index.ts';
import { DrawnPoints } from './drawn-points.ts';
import { PosedSkin } from './posed-skin.ts';

export interface TrialOptions {
  clip: number;
  /** Measured frames a second of the clip. Default 30; divides 60. */
  rate?: number;
  clock?: () => number;
}

/** What one frame of a trial measured, over all garments. */
export interface TrialFrame {
  /** Seconds into the clip. */
  time: number;
  /** Deepest garment point inside the body, metres. */
  penetration: number;
  /** Which garment and welded vertex that is, and where, world space; null when nothing is inside. */
  deepest: { garmentId: RecordId; point: WeldedIndex; position: [number, number, number] } | null;
  /** Strain that 99 % of the edge length stays below (0.04 = 4 % longer than at rest). */
  stretch: number;
  /** Milliseconds that the frame took here. */
  cost: number;
}

/** Deeper than this (metres) the nearest surface is another limb's: not this point's depth. */
const MOST_DEPTH = 0.15;
/** Seconds that the cloth gets to settle in the first pose before the clip plays. */
const SETTLE_SECONDS = 0.5;

/**
 * Plays a clip once through a run of its own and yields what it measures, frame by frame. The cloth
 * settles in the first pose, then plays the clip once unmeasured, so that a loop is measured in its steady state.
 */
export function* runTrial(setup: RunSetup, { clip, rate = 30, clock }: TrialOptions): Generator<TrialFrame> {
  const run = startRun(setup, { clock });
  const body = new PosedSkin(run.character, setup.bodySections);
  const drawn = new DrawnPoints(run);
  run.play(clip);
  run.reset();
  const stepsPerFrame = Math.max(1, Math.round(60 / rate));
  for (let i = 0; i < SETTLE_SECONDS * 60; i++) run.step(0);
  const frameCount = Math.max(1, Math.round(run.duration * rate));
  for (let i = 0; i < frameCount * stepsPerFrame; i++) run.step();
  // A whole number of steps seldom is a whole clip: start the measured round at its beginning.
  run.seek(0);
  run.takeTimes();
  for (let frame = 0; frame < frameCount; frame++) {
    for (let i = 0; i < stepsPerFrame; i++) run.step();
    const { total } = run.takeTimes();
    body.follow(run.pose, run.skinMatrices);
    yield {
      time: run.time,
      ...measurePenetration(run, body, drawn),
      stretch: measureStretch(run, 0.99),
      cost: sumTimes(total) / stepsPerFrame,
    };
  }
}

/** Deepest point of all garments of a run inside the body, of what is drawn: a sim mesh counts through what follows it. */
export function measurePenetration(
  run: CharacterRun,
  body: PosedSkin,
  drawn = new DrawnPoints(run),
): Pick<TrialFrame, 'penetration' | 'deepest'> {
  let penetration = 0;
  let deepest: TrialFrame['deepest'] = null;
  const look = (garment: number, point: number, x: number, y: number, z: number): void => {
    const depth = body.measureDepth(x, y, z, MOST_DEPTH);
    if (depth <= penetration) return;
    penetration = depth;
    deepest = {
      garmentId: run.garments[garment]!.setup.id,
      point: point as WeldedIndex,
      position: [x, y, z],
    };
  };
  run.garments.forEach(({ setup, shown }, garment) => {
    // What is drawn in its place counts instead.
    if ((setup.renders ?? []).length > 0) return;
    const { weldedOfPoint, pointCount } = setup.compiled;
    for (let p = 0; p < pointCount; p++)
      look(garment, weldedOfPoint[p]!, shown[4 * p]!, shown[4 * p + 1]!, shown[4 * p + 2]!);
  });
  drawn.visit(look);
  return { penetration, deepest };
}

/**
 * The strain that a share of all edge length of all garments stays below, never below 0. By length, so that a thin
 * row of tiny edges does not speak for the cloth.
 */
export function measureStretch(run: CharacterRun, share: number): number {
  const edges: { strain: number; length: number }[] = [];
  let total = 0;
  for (const garment of run.garments) {
    const { compiled, lining } = garment.setup;
    const rides = (row: number): boolean => lining?.[compiled.weldedOfPoint[row]!] === 1;
    visitStrains(compiled, garment.shown, (strain, length, a, b) => {
      // What rides on the outer side is as long as that leaves it.
      if (rides(a) || rides(b)) return;
      edges.push({ strain, length });
      total += length;
    });
  }
  edges.sort((p, q) => q.strain - p.strain);
  let left = (1 - share) * total;
  for (const { strain, length } of edges) {
    left -= length;
    if (left <= 0) return Math.max(0, strain);
  }
  return 0;
}
