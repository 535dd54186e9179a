import type { FrameNumbers } from '../frame-numbers.ts';
import {
  FACE_SHARE,
  FACE_SLACK,
  MOST_FACE_BODIES,
  MOST_FACE_DIVISIONS,
  MOST_STRETCHED,
} from '../kernel/assembly/constants.ts';
import type { SolverState } from '../solver-state.ts';
import { isWithinBox, type MovingShape, resolveContact } from './moving-shape.ts';

/** Off even numbers of parts by so much, so that rounding does not decide. */
const EVEN = 1e-3;

/**
 * Triangles that a body may come through between their corners in this frame: those near it that are large beside it. Each is looked at in
 * as many places as let nothing of the body through: sides of its triangles in parts (divisions), so that no hole is left that the body sinks into by
 * more than the thickness, or by a quarter of its radius.
 *
 * @returns How many; in `state.faceContacts` the triangle, and the body times 8 with the divisions.
 */
export function findFaceContacts(state: SolverState, frame: FrameNumbers): number {
  const { triangles, faceContacts, positions: x, velocities: v, inverseMasses } = state;
  const bodies = listThinBodies(state, frame);
  let count = 0;
  if (bodies.length === 0) return 0;
  // Smaller ones are of one part beside every body.
  const leastSize =
    Math.sqrt(3) * bodies.reduce((least, { hole }) => Math.min(least, hole), Number.POSITIVE_INFINITY);
  for (let t = 0; t < triangles.length / 3; t++) {
    const size = measureLongestSide(x, triangles, 3 * t);
    if (size < leastSize) continue;
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    let fastest = 0;
    let mass = 0;
    for (let k = 3 * t; k < 3 * t + 3; k++) {
      const o = 4 * triangles[k]!;
      mass += inverseMasses[triangles[k]!]!;
      fastest = Math.max(fastest, v[o]! ** 2 + v[o + 1]! ** 2 + v[o + 2]! ** 2);
      for (let c = 0; c < 3; c++) {
        low[c] = Math.min(low[c]!, x[o + c]!);
        high[c] = Math.max(high[c]!, x[o + c]!);
      }
    }
    if (mass === 0) continue;
    const reach = Math.sqrt(fastest) * frame.seconds + FACE_SLACK;
    let found = 0;
    for (const body of bodies) {
      const { index, hole, low: from, high: to } = body;
      const divisions = Math.min(MOST_FACE_DIVISIONS, Math.ceil(size / (Math.sqrt(3) * hole) - EVEN));
      if (divisions < 2 || found === MOST_FACE_BODIES) continue;
      if ([0, 1, 2].some((c) => low[c]! - reach > to[c]! || high[c]! + reach < from[c]!)) continue;
      if (isFarFromAxis(body, x, triangles.subarray(3 * t, 3 * t + 3), reach)) continue;
      faceContacts[2 * count] = t;
      faceContacts[2 * count + 1] = 8 * index + divisions;
      count++;
      found++;
    }
  }
  return count;
}

interface ThinBody {
  index: number;
  /** Largest radius of a hole between the places that are looked at, m. */
  hole: number;
  /** Its box over the frame. */
  low: number[];
  high: number[];
  /** Of round ones: the ends of the axis, and how far the surface is from it and goes in the frame, m. */
  axis: { a: number[]; b: number[]; most: number } | null;
}

function listThinBodies(state: SolverState, frame: FrameNumbers): ThinBody[] {
  const { capsulesFrom, capsulesTo, hullBoxesFrom, hullBoxesTo, hullSizes } = state;
  const bodies: ThinBody[] = [];
  const add = (radius: number, body: Omit<ThinBody, 'hole'>): void => {
    const hole = measureHole(radius, frame.thickness);
    if (MOST_STRETCHED * frame.largestFace > Math.sqrt(3) * hole) bodies.push({ ...body, hole });
  };
  for (let c = 0; c < frame.capsuleCount; c++) {
    const ends = [capsulesFrom, capsulesTo].flatMap((rows) =>
      [8 * c, 8 * c + 4].map((o) => [...rows.subarray(o, o + 4)]),
    );
    const bound = (k: number, sign: 1 | -1): number =>
      sign * Math.max(...ends.map((end) => sign * end[k]! + end[3]! + frame.thickness));
    const low = [0, 1, 2].map((k) => bound(k, -1));
    const high = [0, 1, 2].map((k) => bound(k, 1));
    const [a0, b0, a, b] = ends as [number[], number[], number[], number[]];
    const motion = Math.max(distance(a0, a), distance(b0, b));
    const most = Math.max(a[3]!, b[3]!) + frame.thickness + motion;
    add(Math.min(a[3]!, b[3]!), { index: c, low, high, axis: { a, b, most } });
  }
  for (let k = 0; k < frame.hullCount; k++) {
    const at = (c: number): number[] => [hullBoxesFrom[8 * k + c]!, hullBoxesTo[8 * k + c]!];
    const low = [0, 1, 2].map((c) => Math.min(...at(c)) - frame.thickness);
    const high = [4, 5, 6].map((c) => Math.max(...at(c)) + frame.thickness);
    add(hullSizes[k]!, { index: frame.capsuleCount + k, low, high, axis: null });
  }
  return bodies;
}

/** Radius of the largest hole that a body of some radius may find, m: it sinks into it by no more than the thickness. */
function measureHole(radius: number, thickness: number): number {
  return Math.max(Math.sqrt(thickness * (2 * radius + thickness)), FACE_SHARE * radius, 1e-4);
}

function distance(p: readonly number[], q: readonly number[]): number {
  return Math.sqrt((p[0]! - q[0]!) ** 2 + (p[1]! - q[1]!) ** 2 + (p[2]! - q[2]!) ** 2);
}

/** Whether a triangle is farther from a round body's axis than both can come to meet in the frame. */
function isFarFromAxis({ axis }: ThinBody, x: Float32Array, corners: Uint32Array, reach: number): boolean {
  if (!axis) return false;
  const { a, b, most } = axis;
  const places = Array.from(corners, (corner) => [...x.subarray(4 * corner, 4 * corner + 3)]);
  const middle = [0, 1, 2].map((k) => (places[0]![k]! + places[1]![k]! + places[2]![k]!) / 3);
  let along = 0;
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    along += (middle[k]! - a[k]!) * (b[k]! - a[k]!);
    squared += (b[k]! - a[k]!) ** 2;
  }
  const t = squared > 0 ? Math.min(1, Math.max(0, along / squared)) : 0;
  const foot = [0, 1, 2].map((k) => a[k]! + t * (b[k]! - a[k]!));
  const size = Math.max(...places.map((place) => distance(place, middle)));
  return distance(middle, foot) > most + size + reach;
}

function measureLongestSide(x: Float32Array, triangles: Uint32Array, t: number): number {
  let most = 0;
  for (let side = 0; side < 3; side++) {
    const a = 4 * triangles[t + side]!;
    const b = 4 * triangles[t + ((side + 1) % 3)]!;
    const dx = x[a]! - x[b]!;
    const dy = x[a + 1]! - x[b + 1]!;
    const dz = x[a + 2]! - x[b + 2]!;
    most = Math.max(most, dx * dx + dy * dy + dz * dz);
  }
  return Math.sqrt(most);
}

const push: [number, number, number] = [0, 0, 0];

/** Pushes triangles off the bodies where those are between their corners, with friction; the push goes to the corners by their shares. */
export function solveFaces(
  state: SolverState,
  frame: FrameNumbers,
  shapes: readonly MovingShape[],
  count: number,
): void {
  const { faceContacts, triangles } = state;
  for (let i = 0; i < count; i++) {
    const t = 3 * faceContacts[2 * i]!;
    const shape = shapes[faceContacts[2 * i + 1]! >> 3]!;
    const divisions = faceContacts[2 * i + 1]! & 7;
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    for (let a = 0; a <= divisions; a++) {
      for (let b = 0; a + b <= divisions; b++) {
        const c = divisions - a - b;
        if (a === divisions || b === divisions || c === divisions) continue;
        pushPlace(state, frame, shape, corners, [a / divisions, b / divisions, c / divisions]);
      }
    }
  }
}

function pushPlace(
  { positions: x, velocities: v, predicted, inverseMasses }: SolverState,
  frame: FrameNumbers,
  shape: MovingShape,
  corners: readonly number[],
  shares: readonly number[],
): void {
  const p: [number, number, number] = [0, 0, 0];
  const s: [number, number, number] = [0, 0, 0];
  let answer = 0;
  corners.forEach((corner, j) => {
    const share = shares[j]!;
    answer += inverseMasses[corner]! * share * share;
    for (let k = 0; k < 3; k++) {
      const o = 4 * corner + k;
      p[k] = p[k]! + share * x[o]!;
      s[k] = s[k]! + share * (predicted[o]! - frame.h * v[o]!);
    }
  });
  if (answer === 0 || !isWithinBox(shape, p, s) || !resolveContact(shape, frame, p, s, push)) return;
  corners.forEach((corner, j) => {
    const part = (inverseMasses[corner]! * shares[j]!) / answer;
    for (let k = 0; k < 3; k++) x[4 * corner + k] = x[4 * corner + k]! + part * push[k]!;
  });
}
