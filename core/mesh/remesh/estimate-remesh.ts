import type { Surface } from '../surface.ts';
import { computeTriangleAreas } from '../triangle-area.ts';

export interface RemeshEstimate {
  triangles: number;
  seconds: number;
}

/** More is refused unless it is asked for. */
const MOST_TRIANGLES = 2_000_000;
const MOST_SECONDS = 60;
/** Refused in any case: at 0.8 kB a triangle (measured to 200,000) more would not fit into what a page or a process may take. */
const MOST_EVER = 3_000_000;
/** Of a triangle of the result, and of one of the source, on one core at 2.5 GHz, s: measured, half to 1.8 times this by the mesh. */
const SECONDS_PER_MADE = 2e-4;
const SECONDS_PER_SOURCE = 5e-5;

/** How many triangles of a wished edge length, m, a surface takes, and about how long that lasts. O(t). */
export function estimateRemesh({ positions, triangles }: Surface, edgeLength: number): RemeshEstimate {
  const made = countTriangles(computeTriangleAreas(positions, triangles), edgeLength);
  return { triangles: made, seconds: SECONDS_PER_MADE * made + measureSource(triangles) };
}

/**
 * @param isForced - It may take longer; what does not fit into memory is refused all the same.
 * @throws {RangeError} that tells what it would take, and an edge length that fits where there is one.
 */
export function refuseTooDear(source: Surface, edgeLength: number, isForced = false): void {
  const { triangles, seconds } = estimateRemesh(source, edgeLength);
  const inTime = (MOST_SECONDS - measureSource(source.triangles)) / SECONDS_PER_MADE;
  const most = isForced ? MOST_EVER : Math.min(MOST_TRIANGLES, inTime);
  if (triangles <= most) return;
  const lasts = seconds < 90 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} minutes`;
  const takes = `edges of ${Number((100 * edgeLength).toPrecision(3))} cm make about ${Math.round(triangles).toLocaleString('en')} triangles and take about ${lasts}`;
  if (most <= 0) {
    const own = (source.triangles.length / 3).toLocaleString('en');
    throw new RangeError(
      `${takes}: most of it for the ${own} triangles that there are. Thin them out in modelling.`,
    );
  }
  const limit = most === inTime ? `${MOST_SECONDS} s` : `${most.toLocaleString('en')} triangles`;
  // Rounded up to two digits: what is proposed is taken.
  const wished = 100 * edgeLength * Math.sqrt(triangles / most);
  const digit = 10 ** (Math.floor(Math.log10(wished)) - 1);
  const proposed = Number((Math.ceil(wished / digit) * digit).toPrecision(2));
  throw new RangeError(`${takes}; at most ${limit}. Take ${proposed} cm or more.`);
}

/** What going through the source takes alone, s. */
function measureSource(triangles: Uint32Array): number {
  return (SECONDS_PER_SOURCE * triangles.length) / 3;
}

/** Of triangles of three such edges on an area. */
function countTriangles(areas: Float32Array, edgeLength: number): number {
  const area = areas.reduce((sum, value) => sum + value, 0);
  return area / ((Math.sqrt(3) / 4) * edgeLength * edgeLength);
}
