import { percentile } from '../../math/index.ts';
import { buildEdgeTable } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { listBorderSegments, measureFarthest } from './border-segments.ts';

/** What tells a good sim mesh from a bad one. */
export interface SurfaceFigures {
  points: number;
  triangles: number;
  /** Mean length of the edges, m. */
  spacing: number;
  /** 5th and 95th percentile of the lengths of the edges, m. */
  shortEdge: number;
  longEdge: number;
  /** Share of the edges within 0.7 to 1.4 of the wished length; null without one. */
  withinTarget: number | null;
  /** Smallest angle of all triangles, and the smallest but for the worst hundredth of the triangles, degrees. */
  smallestAngle: number;
  smallestAngleP99: number;
}

/** @param edgeLength - Wished length of the edges, m. */
export function measureSurface(surface: Surface, edgeLength: number | null = null): SurfaceFigures {
  const { positions: p, triangles } = surface;
  const table = buildEdgeTable(triangles, p.length / 3);
  const lengths = new Float64Array(table.edgeCount);
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [3 * table.edges[2 * e]!, 3 * table.edges[2 * e + 1]!];
    lengths[e] = Math.sqrt(
      (p[a]! - p[b]!) ** 2 + (p[a + 1]! - p[b + 1]!) ** 2 + (p[a + 2]! - p[b + 2]!) ** 2,
    );
  }
  const angles = measureSmallestAngles(surface);
  const within = lengths.filter(
    (length) => length >= 0.7 * (edgeLength ?? 0) && length <= 1.4 * (edgeLength ?? 0),
  );
  return {
    points: p.length / 3,
    triangles: triangles.length / 3,
    spacing: lengths.length > 0 ? lengths.reduce((sum, length) => sum + length, 0) / lengths.length : 0,
    shortEdge: percentile(lengths, 0.05),
    longEdge: percentile(lengths, 0.95),
    withinTarget: edgeLength === null || lengths.length === 0 ? null : within.length / lengths.length,
    smallestAngle: percentile(angles, 0),
    smallestAngleP99: percentile(angles, 0.01),
  };
}

/** Smallest angle of each triangle, degrees; 0 for one without an area. [t] */
export function measureSmallestAngles({ positions, triangles }: Surface): Float64Array {
  const angles = new Float64Array(triangles.length / 3);
  for (let t = 0; t < angles.length; t++) {
    const [a, b, c] = [3 * triangles[3 * t]!, 3 * triangles[3 * t + 1]!, 3 * triangles[3 * t + 2]!];
    const widest = Math.max(
      measureCosine(positions, a, b, c),
      measureCosine(positions, b, c, a),
      measureCosine(positions, c, a, b),
    );
    angles[t] = (180 / Math.PI) * Math.acos(Math.min(1, widest));
  }
  return angles;
}

/** Cosine of the angle at a place between two others, by where they begin in the list; 1 where two are one. */
function measureCosine(p: Float32Array, at: number, b: number, c: number): number {
  let [dot, uu, vv] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const u = p[b + k]! - p[at + k]!;
    const v = p[c + k]! - p[at + k]!;
    dot += u * v;
    uu += u * u;
    vv += v * v;
  }
  return uu * vv > 0 ? dot / Math.sqrt(uu * vv) : 1;
}

/**
 * Greatest distance between the open borders of two surfaces, either way, at ends and middles of their edges, m.
 * Infinity when only one has a border.
 */
export function measureBorderDeviation(surface: Surface, source: Surface): number {
  const [ours, theirs] = [listBorderSegments(surface), listBorderSegments(source)];
  if (ours.length === 0 && theirs.length === 0) return 0;
  if (ours.length === 0 || theirs.length === 0) return Number.POSITIVE_INFINITY;
  return Math.max(measureFarthest(ours, theirs), measureFarthest(theirs, ours));
}
