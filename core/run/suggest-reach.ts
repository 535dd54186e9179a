import type { RecordId } from '../document/index.ts';
import { buildEdgeTable, buildNeighbours, computeSurfaceDistance } from '../mesh/index.ts';
import { computeSmoothAll, type PointSet } from '../reach/index.ts';
import { FRAME_RATE } from './character-run.ts';
import { startRun } from './create-run.ts';
import { completeSeam, findSeam, toSurface } from './find-seam.ts';
import { freeGarment } from './free-garment.ts';
import type { GarmentSetup } from './garment-setup.ts';
import type { RunSetup } from './run-setup.ts';

export interface SuggestReachOptions {
  garmentId: RecordId;
  /** Welded vertices that are to be held; pieces without any get their own. Null: what is held, or the highest border. */
  seam: PointSet | null;
}

/** Seconds that the cloth gets to settle in the first pose of a clip. */
const SETTLE_SECONDS = 0.5;
/** More than was needed on the clips, so that cloth is not stopped just where it wants to lie. */
const MARGIN = 1.15;
const SMOOTH_PASSES = 6;

/**
 * How far each point of a garment wants to go from its skinned place on a clip: it runs through it held by its seam alone, over the
 * whole body, and the farthest counts. The first half of a suggested map.
 *
 * @returns Metres, [n]; yields the share done.
 * @throws {RangeError} When nothing is to be held, or there is no such garment.
 */
export function* measureReachNeed(
  whole: RunSetup,
  options: SuggestReachOptions,
  clip: number,
): Generator<number, Float32Array> {
  const { character, garments, bodySections } = whole;
  const { setup, seam } = findWorn(whole, options);
  const { compiled } = setup;
  const held = { ...setup, maxDistances: Float32Array.from(seam, (isSeam) => (isSeam ? 0 : 1)) };
  const freed = freeGarment(held, character, bodySections);
  const need = new Float32Array(compiled.pointCount);
  // What is worn over it does not reach it.
  const worn = garments.slice(0, garments.indexOf(setup));
  const run = startRun({ ...whole, garments: [...worn, freed] });
  run.play(clip);
  run.reset();
  for (let frame = 0; frame < SETTLE_SECONDS * FRAME_RATE; frame++) run.step(0);
  const frames = Math.max(1, Math.round(run.duration * FRAME_RATE));
  const garment = run.find(options.garmentId)!;
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
    yield (frame + 1) / frames;
  }
  return need;
}

/**
 * A first map of max distances to paint over: as far as each point was needed to go on the clips, but no farther from its
 * skinned place than it is from the seam along the surface (there it could not get to), rising from 0 at the seam.
 *
 * @param needs - Of each clip, as `measureReachNeed` measures them.
 * @returns Metres, [n].
 * @throws {RangeError} When nothing is to be held, or there is no such garment.
 */
export function shapeReach(
  whole: RunSetup,
  options: SuggestReachOptions,
  needs: readonly Float32Array[],
): Float32Array {
  const { setup, seam } = findWorn(whole, options);
  const most = new Float32Array(seam.length);
  for (const need of needs)
    need.forEach((value, i) => {
      most[i] = Math.max(most[i]!, value);
    });
  return shapeMap(toSurface(setup), seam, most);
}

function findWorn(
  { garments }: RunSetup,
  { garmentId, seam }: SuggestReachOptions,
): { setup: GarmentSetup; seam: PointSet } {
  const setup = garments.find(({ id }) => id === garmentId);
  if (!setup) throw new RangeError('The garment is not worn: it has no section to suggest a map for.');
  const picked = seam ?? findSeam(setup);
  if (!picked.includes(1))
    throw new RangeError('No seam is picked: hold some vertices first, or pick a border.');
  if (picked.length !== setup.compiled.pointCount)
    throw new RangeError('The seam was picked on another mesh. Pick it anew.');
  return { setup, seam: completeSeam(setup, picked) };
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
