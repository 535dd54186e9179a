import { buildEdgeTable, buildNeighbours, listBorderPoints, type Surface } from '../mesh/index.ts';
import { findBorderLoop, type PointSet, pickConnected } from '../reach/index.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** A border that climbs less than this share of its piece's height goes around: a neck, a waist, a cuff. */
const MOST_CLIMB = 0.35;
/** Without such a border in the upper half: so much of the height, from the top, is taken. */
const TOP_SHARE = 0.04;

/** The surface of a garment at rest, by its welded vertices. */
export function toSurface({ compiled }: Pick<GarmentSetup, 'compiled'>): Surface {
  const { restPositions, weldedOfPoint, triangles, pointCount } = compiled;
  const positions = new Float32Array(3 * pointCount);
  weldedOfPoint.forEach((welded, i) => {
    positions.set(restPositions.subarray(4 * i, 4 * i + 3), 3 * welded);
  });
  return { positions, triangles: triangles.map((point) => weldedOfPoint[point]!) };
}

/**
 * Where a garment most likely hangs: the points that are held already, or else of each of its pieces the border that goes
 * around it at the top, or its topmost rows.
 */
export function findSeam(setup: GarmentSetup): PointSet {
  const held = Uint8Array.from(setup.maxDistances, (value) => (value === 0 ? 1 : 0));
  return completeSeam(setup, held.includes(0) ? held : new Uint8Array(held.length));
}

/** A seam with one of their own for the pieces that it leaves loose. */
export function completeSeam(setup: Pick<GarmentSetup, 'compiled'>, seam: PointSet): PointSet {
  const { positions, triangles } = toSurface(setup);
  const table = buildEdgeTable(triangles, seam.length);
  const neighbours = buildNeighbours(table, seam.length);
  const loops = listLoops(table);
  const whole = seam.slice();
  let done = pickConnected(neighbours, seam);
  for (let first = done.indexOf(0); first >= 0; first = done.indexOf(0)) {
    const start = new Uint8Array(seam.length);
    start[first] = 1;
    const isPiece = pickConnected(neighbours, start);
    const piece = [...isPiece.keys()].filter((point) => isPiece[point]);
    const own = loops.filter(([point]) => isPiece[point!]);
    for (const point of chooseTop(piece, own, positions)) whole[point] = 1;
    done = done.map((isDone, point) => (isDone || isPiece[point] ? 1 : 0));
  }
  return whole;
}

function listLoops(table: ReturnType<typeof buildEdgeTable>): number[][] {
  const seen = new Set<number>();
  const loops: number[][] = [];
  for (const start of listBorderPoints(table)) {
    if (seen.has(start)) continue;
    const loop = findBorderLoop(table, start);
    for (const point of loop) seen.add(point);
    loops.push(loop);
  }
  return loops;
}

/** The border around the top of a piece, or its topmost rows. */
function chooseTop(
  piece: readonly number[],
  loops: readonly number[][],
  positions: Float32Array,
): readonly number[] {
  const heightOf = (point: number): number => positions[3 * point + 1]!;
  const measure = (points: readonly number[]): { low: number; high: number; middle: number } => {
    let [low, high, sum] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0];
    for (const point of points) {
      const height = heightOf(point);
      low = Math.min(low, height);
      high = Math.max(high, height);
      sum += height;
    }
    return { low, high, middle: sum / points.length };
  };
  const { low, high } = measure(piece);
  const around = loops
    .map((loop) => ({ loop, ...measure(loop) }))
    .filter((each) => each.high - each.low <= MOST_CLIMB * (high - low) && each.middle > (low + high) / 2)
    .sort((p, q) => q.middle - p.middle);
  return around[0]?.loop ?? piece.filter((point) => heightOf(point) >= high - TOP_SHARE * (high - low));
}
