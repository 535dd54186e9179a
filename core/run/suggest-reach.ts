import type { RecordId } from '../document/index.ts';
import { buildEdgeTable, buildNeighbours, computeSurfaceDistance } from '../mesh/index.ts';
import { computeSmoothAll, type PointSet } from '../reach/index.ts';
import { FRAME_RATE } from './character-run.ts';
import { startRun } from './create-run.ts';
import { completeSeam, toSurface } from './find-seam.ts';
import { freeGarment } from './free-garment.ts';
import type { RunSetup } from './run-setup.ts';

export interface SuggestReachOptions {
  garmentId: RecordId;
  /** Welded vertices that are to be held: the seam. At least one; pieces without any get their own. */
  seam: PointSet;
  /** Indices of the clips that it should serve. */
  clips: readonly number[];
}

/** Seconds that the cloth gets to settle in the first pose of a clip. */
const SETTLE_SECONDS = 0.5;
/** More than was needed on the clips, so that cloth is not stopped just where it wants to lie. */
const MARGIN = 1.15;
const SMOOTH_PASSES = 6;

/**
 * A first map of max distances to paint over: as far as each point was needed to go on the clips, but no farther from its
 * skinned place than it is from the seam along the surface (there it could not get to), rising from 0 at the seam.
 *
 * What the clips need is measured: the garment runs through them held by its seam alone, over the whole body, and the
 * farthest that each point gets from its skinned place counts.
 *
 * @returns Metres, [n]; yields the share done.
 * @throws {RangeError} When nothing is to be held, or there is no such garment.
 */
export function* suggestReach(
  whole: RunSetup,
  { garmentId, seam, clips }: SuggestReachOptions,
): Generator<number, Float32Array> {
  const { character, garments, bodySections } = whole;
  const setup = garments.find(({ id }) => id === garmentId);
  if (!setup) throw new RangeError('The garment is not worn: it has no section to suggest a map for.');
  if (!seam.includes(1)) throw new RangeError('No seam is picked: hold some points first, or pick a border.');
  const { compiled } = setup;
  const wholeSeam = completeSeam(setup, seam);
  const held = { ...setup, maxDistances: Float32Array.from(wholeSeam, (isSeam) => (isSeam ? 0 : 1)) };
  const freed = freeGarment(held, character, bodySections);
  const need = new Float32Array(compiled.pointCount);
  for (const [k, clip] of clips.entries()) {
    // What is worn over it does not reach it.
    const worn = garments.slice(0, garments.indexOf(setup));
    const run = startRun({ ...whole, garments: [...worn, freed] });
    run.play(clip);
    run.reset();
    for (let frame = 0; frame < SETTLE_SECONDS * FRAME_RATE; frame++) run.step(0);
    const frames = Math.max(1, Math.round(run.duration * FRAME_RATE));
    const garment = run.find(garmentId)!;
    for (let frame = 0; frame < frames; frame++) {
      run.step();
      const { positions } = garment.solver;
      for (let i = 0; i < need.length; i++) {
        const o = 4 * i;
        const x = positions[o]! - garment.targets[o]!;
        const y = positions[o + 1]! - garment.targets[o + 1]!;
        const z = positions[o + 2]! - garment.targets[o + 2]!;
        const point = compiled.weldedOfPoint[i]!;
        need[point] = Math.max(need[point]!, Math.sqrt(x * x + y * y + z * z));
      }
      yield (k + (frame + 1) / frames) / clips.length;
    }
  }
  return shapeMap(toSurface(setup), wholeSeam, need);
}

/** Rises from the seam to what is needed, smoothly. */
function shapeMap(
  { positions, triangles }: ReturnType<typeof toSurface>,
  seam: PointSet,
  need: Float32Array,
): Float32Array {
  const { distances } = computeSurfaceDistance(positions, triangles, seam);
  const first = need.map((value, i) =>
    seam[i] ? 0 : Math.max(1e-3, Math.min(MARGIN * value, distances[i]!)),
  );
  const neighbours = buildNeighbours(buildEdgeTable(triangles, need.length), need.length);
  const { indices, after } = computeSmoothAll(first, neighbours, 0.5, SMOOTH_PASSES, {
    kind: 'maxDistance',
  });
  indices.forEach((index, k) => {
    first[index] = after[k]!;
  });
  return first;
}
