import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import { measureDistance } from '../measure-distance.ts';
import type { Surface } from '../surface.ts';
import { distanceToSegment } from './feature-polylines.ts';

/** A point lies on an edge when it is no farther from it than this share of its length. */
const ON_EDGE = 1e-4;

/**
 * Cuts triangles where the border point of another lies on their open side, so that the two hang together there. Ours.
 *
 * @returns the triangles, and how many points lay on an open side. O(borders) expected, for borders of like edges.
 */
export function closeTJunctions({ positions, triangles }: Surface): {
  triangles: Uint32Array;
  count: number;
} {
  const table = buildEdgeTable(triangles, positions.length / 3);
  const open: { a: number; b: number; triangle: number }[] = [];
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    open.push({ a: table.edges[2 * e]!, b: table.edges[2 * e + 1]!, triangle: table.triangles[2 * e]! });
  }
  const points = new PointCells(positions, open);
  const cuts = new Map<number, { a: number; b: number; points: number[] }[]>();
  const met = new Set<number>();
  for (const { a, b, triangle } of open) {
    const found = points.listOn(a, b);
    if (found.length === 0) continue;
    for (const point of found) met.add(point);
    cuts.set(triangle, [...(cuts.get(triangle) ?? []), { a, b, points: found }]);
  }
  if (cuts.size === 0) return { triangles, count: 0 };
  const made: number[] = [];
  for (let t = 0; 3 * t < triangles.length; t++) {
    const corners = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const sides = (cuts.get(t) ?? []).flatMap(({ a, b, points: list }) =>
      list.map((point) => ({ a, b, point })),
    );
    // A point of its own on another of its sides: as flat as a line, and left alone.
    if (sides.some(({ point }) => corners.includes(point))) made.push(...corners);
    else cutTriangle(corners, sides, positions, made);
  }
  return { triangles: Uint32Array.from(made), count: met.size };
}

interface SideCut {
  a: number;
  b: number;
  point: number;
}

/** Cuts from the opposite corner, one point after the other. */
function cutTriangle(
  [p, q, r]: readonly number[],
  cuts: readonly SideCut[],
  positions: Float32Array,
  out: number[],
): void {
  const [first, ...others] = cuts;
  if (!first) {
    out.push(p!, q!, r!);
    return;
  }
  const { a, b, point } = first;
  // Turned so that the cut side comes first; its direction is that of the triangle.
  const turned = [
    [p!, q!, r!],
    [q!, r!, p!],
    [r!, p!, q!],
  ].find(([from, to]) => (from === a && to === b) || (from === b && to === a))!;
  const [from, to, across] = turned as [number, number, number];
  for (const [start, end] of [
    [from, point],
    [point, to],
  ] as const) {
    const ofPart = others.flatMap((cut) => {
      if (cut.a !== a || cut.b !== b) {
        const own = start === point ? to : from;
        return cut.a === own || cut.b === own ? [cut] : [];
      }
      const isBetween =
        measureDistance(positions, start, cut.point) < measureDistance(positions, start, end) &&
        measureDistance(positions, end, cut.point) < measureDistance(positions, start, end);
      return isBetween ? [{ a: start, b: end, point: cut.point }] : [];
    });
    cutTriangle([start, end, across], ofPart, positions, out);
  }
}

/** The ends of open edges in the cells of a grid as wide as those edges are long. */
class PointCells {
  readonly #positions: Float32Array;
  readonly #cell: number;
  readonly #cells = new Map<string, number[]>();

  constructor(positions: Float32Array, edges: readonly { a: number; b: number }[]) {
    this.#positions = positions;
    const total = edges.reduce((sum, { a, b }) => sum + measureDistance(positions, a, b), 0);
    this.#cell = edges.length > 0 && total > 0 ? total / edges.length : 1;
    for (const point of new Set(edges.flatMap(({ a, b }) => [a, b]))) {
      const key = this.#name(this.#place(point));
      this.#cells.set(key, [...(this.#cells.get(key) ?? []), point]);
    }
  }

  /** Points on the edge between two others, ends apart. */
  listOn(a: number, b: number): number[] {
    const [from, to] = [this.#place(a), this.#place(b)];
    const length = measureDistance(this.#positions, a, b);
    const found: number[] = [];
    const seen = new Set<string>();
    for (let step = 0; step * this.#cell <= length + this.#cell; step++) {
      const share = length > 0 ? Math.min(1, (step * this.#cell) / length) : 0;
      const at = from.map((value, k) => value + share * (to[k]! - value));
      for (let i = 0; i < 27; i++) {
        const around = [i % 3, Math.floor(i / 3) % 3, Math.floor(i / 9)].map(
          (way, k) => at[k]! + (way - 1) * this.#cell,
        );
        const key = this.#name(around);
        if (seen.has(key)) continue;
        seen.add(key);
        for (const point of this.#cells.get(key) ?? []) {
          if (point === a || point === b) continue;
          const place = this.#place(point);
          const isOn = distanceToSegment(place, from, to) <= ON_EDGE * length;
          const isInside =
            Math.min(measureDistance(this.#positions, point, a), measureDistance(this.#positions, point, b)) >
            10 * ON_EDGE * length;
          if (isOn && isInside) found.push(point);
        }
      }
    }
    return found;
  }

  #place(point: number): number[] {
    return Array.from(this.#positions.subarray(3 * point, 3 * point + 3));
  }

  #name(place: readonly number[]): string {
    return place.map((value) => Math.floor(value / this.#cell)).join();
  }
}
