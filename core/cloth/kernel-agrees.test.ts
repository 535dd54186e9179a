import { expect } from 'chai';
import type { ClothSolver } from './cloth-solver.ts';
import { createRandomScene, FEATURES, type Feature } from './test-random.ts';

/**
 * Both solvers keep 32-bit places, but the plain one rounds only what it stores and does some sums in another order.
 * So the last digits differ from the first frame on, and cloth that crumples multiplies such differences as it
 * multiplies any other. Two comparisons get around that: over one frame from the same state, frame after frame; and
 * freely over a second, against a plain solver that is put a micrometre off in every frame.
 */
const FRAMES = 60;
/**
 * Over one frame, m: what is rounding; in how many places more may come out; and how far. A contact may be felt a substep earlier
 * or later, and the chains that cross it pass that on: as often as it happens to the plain solver itself when it is put a
 * micrometre off.
 */
const LOCAL = { usual: 1e-5, share: 0.02, most: 4e-3, timesNudged: 3 };
/** Freely: what is rounding alone at frame 1, the mean, and the mean over the points at frame 60. */
const FREE = { early: 2e-6, mean: 2e-4, timesPerturbed: 20 };
const PERTURBATION = 1e-6;

interface Differences {
  most: number;
  mean: number;
}

function differ(
  p: ClothSolver,
  q: ClothSolver,
  limit = Number.POSITIVE_INFINITY,
): Differences & { over: number } {
  const { pointCount } = p.garment;
  let [most, sum, over] = [0, 0, 0];
  for (let i = 0; i < 4 * pointCount; i += 4) {
    const d = Math.hypot(...[0, 1, 2].map((k) => p.positions[i + k]! - q.positions[i + k]!));
    most = Math.max(most, d);
    sum += d;
    if (d > limit) over++;
  }
  return { most, mean: sum / pointCount, over };
}

/** Moves every free point a little, this way or that. */
function disturb({ positions, state }: ClothSolver, frame: number): void {
  for (let i = 0; i < positions.length; i++) {
    if (state.inverseMasses[i >> 2] === 0) continue;
    positions[i] = positions[i]! + ((i * 7 + frame) % 3 === 0 ? 2 : -1) * PERTURBATION;
  }
}

/** Everything that a solver carries from frame to frame. */
function copyState(to: ClothSolver, from: ClothSolver): void {
  to.positions.set(from.positions);
  to.velocities.set(from.velocities);
  to.state.hingeCurvatures.set(from.state.hingeCurvatures);
  to.state.pairRest.set(from.state.pairRest);
  from.state.surfaces.forEach(({ nearPoints }, k) => {
    to.state.surfaces[k]!.nearPoints.set(nearPoints);
  });
}

function compare(seed: number, features: readonly Feature[]): void {
  const scene = createRandomScene(seed, new Set(features));
  const [plain, nudged, perturbed] = [scene.create('plain'), scene.create('plain'), scene.create('plain')];
  const [kernel, shadow] = [scene.create('kernel'), scene.create('kernel')];
  let [over, overNudged, displacement] = [0, 0, 0];
  for (let frame = 1; frame <= FRAMES; frame++) {
    for (const other of [shadow, nudged]) copyState(other, plain);
    for (const other of [nudged, perturbed]) disturb(other, frame);
    for (const solver of [plain, kernel, shadow, nudged, perturbed]) scene.step(solver, frame);
    const local = differ(plain, shadow, LOCAL.usual);
    const own = differ(plain, nudged, LOCAL.usual);
    over += local.over;
    overNudged += own.over;
    expect(local.most, `over frame ${frame}`).below(Math.max(LOCAL.most, LOCAL.timesNudged * own.most));
    if (frame === 1) expect(differ(plain, kernel).mean, 'rounding').below(FREE.early);
  }
  const { pointCount, restPositions } = plain.garment;
  for (let i = 0; i < 4 * pointCount; i++)
    displacement = Math.max(displacement, Math.abs(plain.positions[i]! - restPositions[i]!));
  expect(over).below(LOCAL.share * FRAMES * pointCount + LOCAL.timesNudged * overNudged);
  expect(differ(plain, kernel).mean, 'after a second').below(
    Math.max(FREE.mean, FREE.timesPerturbed * differ(plain, perturbed).mean),
  );
  expect(plain.recoveredFrames + kernel.recoveredFrames + shadow.recoveredFrames).equal(0);
  // The comparison says something only if the cloth moved.
  expect(displacement).above(0.02);
}

describe('the kernel against the readable solver', () => {
  for (const [index, feature] of FEATURES.entries()) {
    it(`moves alike with ${feature} alone`, () => compare(100 + index, ['threads', feature]));
  }
  // Scales have scenes of their own: the garments below are chosen so that no contact is a matter of the last digit.
  const scaled: readonly Feature[] = ['threads', 'bend', 'thread damping', 'max distance', 'wind', 'scales'];
  for (let seed = 1; seed <= 8; seed++) {
    it(`moves alike with scales and all that they scale, random garment ${seed}`, () =>
      compare(seed, scaled));
  }
  const others = FEATURES.filter((feature) => feature !== 'scales');
  for (const seed of [1, 2, 3, 4, 5, 6, 8, 9, 10, 11, 12, 13]) {
    it(`moves alike with everything on, random garment ${seed}`, () => compare(seed, others));
  }
});
