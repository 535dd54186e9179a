import { dropDuplicateFaces } from '../list-duplicate-faces.ts';
import { listFacingSides } from '../list-facing-sides.ts';
import type { Surface } from '../surface.ts';
import { joinCorners } from '../touching-points.ts';
import { weldNear } from '../weld-near.ts';
import { weldTriangles } from '../weld-points.ts';
import { closeTJunctions } from './close-t-junctions.ts';

export interface MendedSource {
  surface: Surface;
  /** For each point of the surface, the point of the original that it was. */
  sources: Uint32Array;
  /** For each point of the original the first that is the same but for rounding, and how many are another's. */
  first: Uint32Array;
  welded: number;
  /** Triangles that were there before, in whatever order of their corners, and are left out. */
  doubled: number;
  /** Points on the open side of a larger triangle, which hang together with it now. */
  closed: number;
  /** Triangles that faced against the larger part of their piece, and were turned. */
  turned: number;
  /** Points at which parts met that share no edge there; each part has one of its own now. */
  parted: number;
}

/**
 * A surface whose triangles are there once, face alike across edges, and hang together by edges: what remeshing can rely on. Edges
 * of more than two triangles stay. Ours.
 *
 * @param source - Points that share places must be shared. O(t).
 */
export function mendSource(source: Surface): MendedSource {
  const welded = weldNear(source);
  const joined = weldTriangles(source.triangles, welded.first);
  const single = dropDuplicateFaces(joined);
  const closed = closeTJunctions({ positions: source.positions, triangles: single });
  const turned = turnAlike(closed.triangles, source.positions);
  const apart = partFans(turned.triangles, source.positions);
  return {
    surface: { positions: apart.positions, triangles: apart.triangles },
    sources: apart.sources,
    closed: closed.count,
    welded: welded.count,
    first: welded.first,
    doubled: (joined.length - single.length) / 3,
    turned: turned.count,
    parted: apart.count,
  };
}

/** Turns the smaller part, by area, of each piece whose triangles are joined over edges of two. */
function turnAlike(
  triangles: Uint32Array,
  positions: Float32Array,
): { triangles: Uint32Array; count: number } {
  const side = listFacingSides(triangles, positions);
  const turned = triangles.slice();
  let count = 0;
  side.forEach((value, t) => {
    if (value >= 0) return;
    turned[3 * t + 1] = triangles[3 * t + 2]!;
    turned[3 * t + 2] = triangles[3 * t + 1]!;
    count++;
  });
  return { triangles: turned, count };
}

/** Gives each part around a point that shares no edge with the others there a point of its own. */
function partFans(
  triangles: Uint32Array,
  positions: Float32Array,
): { positions: Float32Array; triangles: Uint32Array; sources: Uint32Array; count: number } {
  const corners = joinCorners(triangles, positions.length / 3);
  const numbers = new Map<number, number>();
  const taken = new Uint32Array(positions.length / 3);
  const sources: number[] = [];
  const parted = triangles.map((point, i) => {
    const group = corners.find(i);
    let number = numbers.get(group);
    if (number === undefined) {
      // The first part keeps the point; unused points go.
      number = sources.length;
      numbers.set(group, number);
      sources.push(point);
      taken[point]!++;
    }
    return number;
  });
  const kept = new Float32Array(3 * sources.length);
  sources.forEach((from, to) => {
    kept.set(positions.subarray(3 * from, 3 * from + 3), 3 * to);
  });
  return {
    positions: kept,
    triangles: parted,
    sources: Uint32Array.from(sources),
    count: taken.filter((count) => count > 1).length,
  };
}

/** Edges of the original (pairs of points) where they are in the mended surface. */
export function carryLines({ surface, sources, first }: MendedSource, lines: Uint32Array): Uint32Array {
  const key = (a: number, b: number): string => (a < b ? `${a},${b}` : `${b},${a}`);
  const wanted = new Set<string>();
  for (let i = 0; i < lines.length; i += 2) wanted.add(key(first[lines[i]!]!, first[lines[i + 1]!]!));
  if (wanted.size === 0) return new Uint32Array(0);
  const carried = new Map<string, [number, number]>();
  const { triangles } = surface;
  for (let i = 0; i < triangles.length; i++) {
    const [a, b] = [triangles[i]!, triangles[i - (i % 3) + ((i + 1) % 3)]!];
    if (wanted.has(key(sources[a]!, sources[b]!))) carried.set(key(a, b), [a, b]);
  }
  return Uint32Array.from([...carried.values()].flat());
}
