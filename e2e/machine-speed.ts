import {
  BENCH_FABRIC,
  BENCH_FRAME,
  compileSkirt,
  createSkirt,
  gradeSkirt,
  poseLegs,
  toCollision,
} from '../cli/bench/skirt.ts';
import { computeWindAt, KernelSolver, NO_WIND } from '../core/cloth/index.ts';

/** What a frame of the bench's skirt of 2,025 points takes on a core at 2.5 GHz that nobody else slows down, ms. */
const USUAL_FRAME = 0.72;

/**
 * How many times slower than usual this machine is now, at least 1: hosts slow their guests down without a word. What is asked of a
 * page in seconds is asked for a machine of usual speed.
 */
export function measureSlowness(): number {
  const character = createSkirt(45);
  const garment = compileSkirt(character, { order: 'curve' });
  const solver = new KernelSolver(garment, BENCH_FABRIC);
  solver.setMaxDistances(gradeSkirt(character));
  const targets = garment.restPositions.slice();
  solver.reset(targets, { bodies: toCollision(poseLegs(0)) });
  const wind = computeWindAt(NO_WIND, 0);
  const times: number[] = [];
  for (let frame = 0; frame < 240; frame++) {
    const bodies = toCollision(poseLegs(frame * BENCH_FRAME));
    const start = performance.now();
    solver.step(BENCH_FRAME, targets, { wind, bodies });
    times.push(performance.now() - start);
  }
  times.sort((p, q) => p - q);
  return Math.max(1, times[times.length >> 1]! / USUAL_FRAME);
}
