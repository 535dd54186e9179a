import { visitStrains } from '../cloth/index.ts';
import type { CharacterRun } from '../run/index.ts';

/** Strains in steps of this are told apart before they are sorted. */
const STEP = 0.002;
/** As many steps; from the last on all are alike at first. */
const STEPS = 1024;

/**
 * The strain that a share of all edge length of all garments stays below, never below 0. By length, so that a thin
 * row of tiny edges does not speak for the cloth. O(edges).
 */
export function measureStretch(run: CharacterRun, share: number): number {
  const lengths = new Float64Array(STEPS);
  let total = 0;
  visitAll(run, (strain, length) => {
    const step = Math.min(STEPS - 1, Math.floor(strain / STEP));
    if (step >= 0) lengths[step] = lengths[step]! + length;
    total += length;
  });
  let left = (1 - share) * total;
  let step = STEPS - 1;
  while (step >= 0 && left > lengths[step]!) left -= lengths[step--]!;
  if (step < 0) return 0;
  // Within the step that it falls into, one by one.
  const edges: { strain: number; length: number }[] = [];
  visitAll(run, (strain, length) => {
    if (strain >= 0 && Math.min(STEPS - 1, Math.floor(strain / STEP)) === step)
      edges.push({ strain, length });
  });
  edges.sort((p, q) => q.strain - p.strain);
  for (const { strain, length } of edges) {
    left -= length;
    if (left <= 0) return strain;
  }
  return edges[edges.length - 1]?.strain ?? 0;
}

function visitAll(run: CharacterRun, look: (strain: number, length: number) => void): void {
  for (const garment of run.garments) {
    const { compiled, lining } = garment.setup;
    const rides = (row: number): boolean => lining?.[compiled.weldedOfPoint[row]!] === 1;
    visitStrains(compiled, garment.shown, (strain, length, a, b) => {
      // What rides on the outer side is as long as that leaves it.
      if (lining && (rides(a) || rides(b))) return;
      look(strain, length);
    });
  }
}
