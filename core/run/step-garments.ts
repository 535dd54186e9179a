import type { FrameHelpers } from '../cloth/index.ts';
import { findLongestChains } from './find-longest-chains.ts';
import type { FrameMotion, GarmentRun } from './garment-run.ts';

/**
 * Advances garments by one frame, each as soon as those that it waits for are there. Whatever is computed where, and in whatever order, comes to
 * the same bytes: a garment reads nothing of another but where that is at the end of the frame, if it meets it.
 *
 * Of those that can go on the one with the longest chain of others after it goes first.
 *
 * @param garments - Of one character or several, each after those that it waits for. @param motionOf - Of the character of each.
 * @throws {Error} When a thread failed.
 */
export function stepGarments(
  garments: readonly GarmentRun[],
  motionOf: (garment: GarmentRun) => FrameMotion,
  helpers: FrameHelpers | null = null,
): void {
  if (helpers) stepSideBySide(sortByChain(garments), motionOf, helpers);
  else
    for (const garment of garments) {
      if (garment.start(motionOf(garment))) garment.solver.compute();
      garment.finish();
    }
  for (const garment of garments) garment.settle();
}

function stepSideBySide(
  garments: readonly GarmentRun[],
  motionOf: (garment: GarmentRun) => FrameMotion,
  helpers: FrameHelpers,
): void {
  const waiting = new Set(garments);
  const done = new Set<GarmentRun>();
  const finish = (garment: GarmentRun): void => {
    garment.finish();
    done.add(garment);
  };
  while (done.size < garments.length) {
    for (const garment of waiting) {
      if (!garment.waitsFor.every((other) => done.has(other))) continue;
      waiting.delete(garment);
      if (!garment.start(motionOf(garment))) finish(garment);
      else if (helpers.add(garment.solver)) helpers.wake();
      else {
        garment.solver.compute();
        finish(garment);
      }
    }
    const hasComputed = helpers.computeOne();
    for (const solver of helpers.takeFinished(!hasComputed))
      finish(garments.find((garment) => garment.solver === solver)!);
  }
}

/** Those with the longest chain of others that wait for them first; else as they come. */
function sortByChain(garments: readonly GarmentRun[]): GarmentRun[] {
  const sizes = garments.map(
    ({ setup: { compiled, fabric } }) => compiled.pointCount * fabric.substepsPerSecond,
  );
  const waits = garments.map(({ waitsFor }) => waitsFor.map((other) => garments.indexOf(other)));
  const chains = findLongestChains(sizes, waits);
  const order = garments.map((_, g) => g).sort((p, q) => chains[q]! - chains[p]! || p - q);
  return order.map((g) => garments[g]!);
}
