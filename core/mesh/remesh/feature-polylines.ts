import { type EditableMesh, NO_CHAIN } from './editable-mesh.ts';

/** A line that remeshing keeps: an open border, a sharp line, or one that was asked for; from one fixed point to another. */
export interface FeaturePolyline {
  /** The source's line, [m, 3]. */
  positions: Float64Array;
  /** Metres from its start to each of its points. [m] */
  along: Float64Array;
  length: number;
  /** Fixed points at its ends. */
  start: number;
  end: number;
  /** Wished length of its edges, m. */
  spacing: number;
}

/** A line that turns by more than this at a point keeps the point. 35°. */
const CORNER_COSINE = 0.82;

/**
 * Joins feature edges into chains, and tells the mesh which of its points and edges belong to which. Ends of lines,
 * places where three meet, and corners become fixed; closed lines get as many that they have three.
 *
 * @param edges - Feature edges as pairs of points.
 */
export function buildFeaturePolylines(
  mesh: EditableMesh,
  edges: readonly (readonly [number, number])[],
): FeaturePolyline[] {
  const neighbours = new Map<number, number[]>();
  for (const [a, b] of edges) {
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  }
  for (const [point, ends] of neighbours) {
    mesh.isFixed[point] = ends.length !== 2 || isCorner(mesh, ends[0]!, point, ends[1]!);
  }
  fixLoops(mesh, neighbours);
  const polylines: FeaturePolyline[] = [];
  const walk = (start: number, next: number): void => {
    if (mesh.getEdgePolyline(start, next) !== NO_CHAIN) return;
    const points = [start];
    let [before, at] = [start, next];
    for (;;) {
      mesh.setEdgePolyline(before, at, polylines.length);
      points.push(at);
      if (mesh.isFixed[at]) break;
      const [p, q] = neighbours.get(at) as [number, number];
      [before, at] = [at, p === before ? q : p];
    }
    polylines.push(measurePolyline(mesh, points, polylines.length));
  };
  const walkFrom = (start: number): void => {
    for (const next of neighbours.get(start)!) walk(start, next);
  };
  for (const point of neighbours.keys()) if (mesh.isFixed[point]) walkFrom(point);
  return polylines;
}

/**
 * Fixes points of loops that have fewer than three, so that each loop is at least three lines: of two places on a loop with one fixed
 * point nobody can tell which way around lies between them.
 */
function fixLoops(mesh: EditableMesh, neighbours: ReadonlyMap<number, readonly number[]>): void {
  const seen = new Set<number>();
  for (const start of [...neighbours.keys()].sort(
    (p, q) => Number(mesh.isFixed[q]) - Number(mesh.isFixed[p]),
  )) {
    if (seen.has(start)) continue;
    for (const next of neighbours.get(start)!) {
      const loop = walkLoop(mesh, neighbours, start, next);
      if (!loop) continue;
      for (const point of loop.slice(0, -1)) seen.add(point);
      fixThirds(mesh, loop);
      break;
    }
  }
}

/** The points from one around to itself, first and last; null when another fixed point comes first. */
function walkLoop(
  mesh: EditableMesh,
  neighbours: ReadonlyMap<number, readonly number[]>,
  start: number,
  next: number,
): number[] | null {
  const points = [start];
  let [before, at] = [start, next];
  while (at !== start) {
    if (mesh.isFixed[at]) return null;
    points.push(at);
    const [p, q] = neighbours.get(at) as [number, number];
    [before, at] = [at, p === before ? q : p];
  }
  return [...points, start];
}

/** Fixes the first point of a loop and the two nearest to its thirds. */
function fixThirds(mesh: EditableMesh, loop: readonly number[]): void {
  const along = [0];
  for (let i = 1; i < loop.length; i++) along.push(along[i - 1]! + mesh.getLength(loop[i - 1]!, loop[i]!));
  const whole = along[along.length - 1]!;
  mesh.isFixed[loop[0]!] = true;
  let first = 1;
  for (const third of [1, 2]) {
    // One point at least is left for each of the lines that follow.
    const last = loop.length - 1 - (3 - third);
    let best = first;
    for (let i = first; i <= last; i++)
      if (Math.abs(along[i]! - (third * whole) / 3) < Math.abs(along[best]! - (third * whole) / 3)) best = i;
    mesh.isFixed[loop[best]!] = true;
    first = best + 1;
  }
}

function isCorner({ positions: p }: EditableMesh, before: number, at: number, after: number): boolean {
  let dot = 0;
  let uu = 0;
  let vv = 0;
  for (let k = 0; k < 3; k++) {
    const u = p[3 * at + k]! - p[3 * before + k]!;
    const v = p[3 * after + k]! - p[3 * at + k]!;
    dot += u * v;
    uu += u * u;
    vv += v * v;
  }
  return dot < CORNER_COSINE * Math.sqrt(uu * vv);
}

function measurePolyline(mesh: EditableMesh, points: number[], number: number): FeaturePolyline {
  const positions = new Float64Array(3 * points.length);
  const along = new Float64Array(points.length);
  points.forEach((point, i) => {
    for (let k = 0; k < 3; k++) positions[3 * i + k] = mesh.positions[3 * point + k]!;
    if (i > 0) along[i] = along[i - 1]! + mesh.getLength(points[i - 1]!, point);
    if (mesh.isFixed[point]) return;
    mesh.polylines[point] = number;
    mesh.along[point] = along[i]!;
  });
  const length = along[points.length - 1]!;
  return { positions, along, length, start: points[0]!, end: points[points.length - 1]!, spacing: length };
}

/** Where a chain is so many metres from its start. */
export function placeOnPolyline(
  { positions, along }: Pick<FeaturePolyline, 'positions' | 'along'>,
  displacement: number,
): [number, number, number] {
  let low = 0;
  let high = along.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (along[middle]! <= displacement) low = middle;
    else high = middle;
  }
  const step = along[high]! - along[low]!;
  const t = step > 0 ? Math.min(1, Math.max(0, (displacement - along[low]!) / step)) : 0;
  const at = (k: number): number =>
    positions[3 * low + k]! + t * (positions[3 * high + k]! - positions[3 * low + k]!);
  return [at(0), at(1), at(2)];
}

/** Metres along a chain of a point on it. */
export function getDisplacement(mesh: EditableMesh, polyline: FeaturePolyline, point: number): number {
  if (!mesh.isFixed[point]) return mesh.along[point]!;
  return point === polyline.start ? 0 : polyline.length;
}

/**
 * Longest spacing, at most `longest`, with which straight edges stay within a tolerance of a chain.
 * @param tolerance - Metres. @param shortest - Metres; finer than this the spacing does not go.
 */
export function chooseSpacing(
  polyline: FeaturePolyline,
  longest: number,
  shortest: number,
  tolerance: number,
): number {
  const most = Math.max(1, Math.floor(polyline.length / shortest));
  let count = Math.min(most, Math.max(1, Math.round(polyline.length / longest)));
  // Edges come out up to a third longer than wished; the deviation of a curve grows with their square.
  while (count < most && 1.7 * measureDeviation(polyline, count) > tolerance)
    count = Math.min(most, Math.ceil(1.15 * count));
  return polyline.length / count;
}

/** Greatest distance of a chain's own points from `count` equal chords. */
function measureDeviation(polyline: FeaturePolyline, count: number): number {
  let worst = 0;
  const chords = Array.from({ length: count + 1 }, (_, i) =>
    placeOnPolyline(polyline, (polyline.length * i) / count),
  );
  for (let i = 0; i < polyline.along.length; i++) {
    const c = Math.min(count - 1, Math.floor((polyline.along[i]! / polyline.length) * count));
    const position = [0, 1, 2].map((k) => polyline.positions[3 * i + k]!);
    worst = Math.max(worst, distanceToSegment(position, chords[c]!, chords[c + 1]!));
  }
  return worst;
}

/** Distance of a place from the segment between two others, in their unit. */
export function distanceToSegment(p: ArrayLike<number>, a: ArrayLike<number>, b: ArrayLike<number>): number {
  let dot = 0;
  let length = 0;
  for (let k = 0; k < 3; k++) {
    dot += (p[k]! - a[k]!) * (b[k]! - a[k]!);
    length += (b[k]! - a[k]!) ** 2;
  }
  const t = length > 0 ? Math.min(1, Math.max(0, dot / length)) : 0;
  let sum = 0;
  for (let k = 0; k < 3; k++) sum += (a[k]! + t * (b[k]! - a[k]!) - p[k]!) ** 2;
  return Math.sqrt(sum);
}
