import type { FrameHelpers } from '../cloth/index.ts';
import { findLongestChains } from './find-longest-chains.ts';
import type { FrameMotion, GarmentRun } from './garment-run.ts';

/** A garment of a frame that its character has begun. */
export interface MovingGarment {
  garment: GarmentRun;
  motion: FrameMotion;
}

/**
 * Advances garments by one frame, each as soon as those that it waits for are there. Whatever is computed where, and in whatever order, comes to
 * the same bytes: a garment reads nothing of another but where that is at the end of the frame, if it meets it.
 *
 * Of those that can go on the one with the longest chain of others after it goes first.
 *
 * @param moving - Of one character or several, each after those that it waits for.
 * @throws {Error} When a thread failed.
 */
export function stepGarments(moving: readonly MovingGarment[], helpers: FrameHelpers | undefined): void {
  if (helpers) stepSideBySide(sortByChain(moving), helpers);
  else
    for (const { garment, motion } of moving) {
      if (garment.start(motion)) garment.solver.compute();
      garment.finish();
    }
  for (const { garment } of moving) garment.settle();
}

function stepSideBySide(moving: readonly MovingGarment[], helpers: FrameHelpers): void {
  const waiting = new Set(moving);
  const done = new Set<GarmentRun>();
  const finish = (garment: GarmentRun): void => {
    garment.finish();
    done.add(garment);
  };
  while (done.size < moving.length) {
    for (const each of waiting) {
      const { garment, motion } = each;
      if (!garment.waitsFor.every((other) => done.has(other))) continue;
      waiting.delete(each);
      if (!garment.start(motion)) finish(garment);
      else if (helpers.add(garment.solver)) helpers.wake();
      else {
        garment.solver.compute();
        finish(garment);
      }
    }
    const hasComputed = helpers.computeOne();
    for (const solver of helpers.takeFinished(!hasComputed)) {
      // Whatever a step left under way that ended in an error is nobody's now.
      const each = moving.find(({ garment }) => garment.solver === solver);
      if (each) finish(each.garment);
    }
  }
}

/** Those with the longest chain of others that wait for them first; else as they come. */
function sortByChain(moving: readonly MovingGarment[]): MovingGarment[] {
  const garments = moving.map(({ garment }) => garment);
  const sizes = garments.map(
    ({ setup: { compiled, fabric } }) => compiled.pointCount * fabric.substepsPerSecond,
  );
  const waits = garments.map(({ waitsFor }) => waitsFor.map((other) => garments.indexOf(other)));
  const chains = findLongestChains(sizes, waits);
  const order = garments.map((_, g) => g).sort((p, q) => chains[q]! - chains[p]! || p - q);
  return order.map((g) => moving[g]!);
}
