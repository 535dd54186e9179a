import type { ClothSurface, ClothSurfaces } from './cloth-surfaces.ts';
import { measureDepthAt } from './skin/measure-depth.ts';
import { CELL } from './skin/point-grid.ts';
import type { PosedSkin } from './skin/posed-skin.ts';

export interface Penetration {
  /** How deep the deepest place of cloth lies in the body, m. */
  depth: number;
  /** The surface, the number of the nearest of its points, and where; null when nothing is inside. */
  deepest: { surface: ClothSurface; point: number; position: [number, number, number] } | null;
}

/** Deeper than this, m, the nearest skin is another limb's: not this place's depth. */
const MOST_DEPTH = 0.15;

/** What is known of the points of one surface from the last frame. [points] each */
interface Track {
  /** Nearest point of the skin, -1: none near. */
  nearest: Int32Array;
  /** Way to the skin, m: below 0 inside. Where none is near, at least so far. */
  clearance: Float32Array;
  before: Float32Array;
  /** Of rows: the number in `points`. */
  numberOf: Int32Array;
}

/**
 * How deep cloth lies in the body: its points in every frame, the middles of its edges and triangles where the skin comes through
 * one, or a corner is inside. Looks from frame to frame at what was near: a point that was outside cannot be deep inside unless it
 * or the skin went far enough. Ours.
 */
export class PenetrationMeasure {
  readonly #surfaces: ClothSurfaces;
  readonly #skin: PosedSkin;
  readonly #tracks: Track[];
  readonly #near: readonly Uint8Array[];
  #result: Penetration = { depth: 0, deepest: null };
  #isFirst = true;

  constructor(skin: PosedSkin, surfaces: ClothSurfaces) {
    this.#surfaces = surfaces;
    this.#skin = skin;
    this.#near = surfaces.surfaces.map(({ triangles }) => new Uint8Array(triangles.length / 3));
    this.#tracks = surfaces.surfaces.map(({ points, positions, stride }) => {
      const numberOf = new Int32Array(positions.length / stride).fill(-1);
      points.forEach((row, i) => {
        numberOf[row] = i;
      });
      return {
        nearest: new Int32Array(points.length).fill(-1),
        clearance: new Float32Array(points.length),
        before: new Float32Array(3 * points.length),
        numberOf,
      };
    });
  }

  /** Looks at the points as they stand. @returns triangles that the skin may come through, by surface, [t] each. */
  followPoints(): readonly Uint8Array[] {
    this.#result = { depth: 0, deepest: null };
    this.#surfaces.surfaces.forEach((surface, s) => {
      if (this.#skin.isEmpty) return;
      this.#measurePoints(surface, this.#tracks[s]!);
      markNear(surface, this.#tracks[s]!, this.#near[s]!);
    });
    this.#isFirst = false;
    return this.#near;
  }

  /** The depth of all there is. @param pierced - Triangles that the skin comes through, by surface, [t] each. */
  measure(pierced: readonly Uint8Array[]): Penetration {
    this.#surfaces.surfaces.forEach((surface, s) => {
      if (!this.#skin.isEmpty) this.#measureFaces(surface, this.#tracks[s]!, pierced[s]!);
    });
    return this.#result;
  }

  #measurePoints(surface: ClothSurface, track: Track): void {
    const { positions, stride, points } = surface;
    const { nearest, clearance, before } = track;
    for (let i = 0; i < points.length; i++) {
      const o = stride * points[i]!;
      const x = positions[o]!;
      const y = positions[o + 1]!;
      const z = positions[o + 2]!;
      const dx = before[3 * i]! - x;
      const dy = before[3 * i + 1]! - y;
      const dz = before[3 * i + 2]! - z;
      const left = clearance[i]! - Math.sqrt(dx * dx + dy * dy + dz * dz);
      before[3 * i] = x;
      before[3 * i + 1] = y;
      before[3 * i + 2] = z;
      let found = this.#skin.findNear(x, y, z, nearest[i]!);
      nearest[i] = found;
      if (found < 0) {
        // No skin near, so a cell or more away: on the same side as before, unless the way was long enough to pass through it.
        const least = left - this.#skin.boundMotion(x, y, z);
        if (!this.#isFirst && clearance[i]! >= 0 && least > -CELL) {
          clearance[i] = Math.max(CELL, least);
          continue;
        }
        found = this.#skin.findFar(x, y, z);
      }
      const depth = measureDepthAt(this.#skin, found, x, y, z);
      clearance[i] = depth <= MOST_DEPTH ? -depth : CELL;
      if (depth > 0 && depth <= MOST_DEPTH) takeDeeper(this.#result, depth, surface, i, x, y, z);
    }
  }

  #measureFaces(surface: ClothSurface, track: Track, pierced: Uint8Array): void {
    const { triangles } = surface;
    const { clearance, numberOf } = track;
    for (let t = 0; t < pierced.length; t++) {
      const a = numberOf[triangles[3 * t]!]!;
      const b = numberOf[triangles[3 * t + 1]!]!;
      const c = numberOf[triangles[3 * t + 2]!]!;
      if (!pierced[t] && !(clearance[a]! < 0 || clearance[b]! < 0 || clearance[c]! < 0)) continue;
      this.#measureBetween(surface, track, a, b, b);
      this.#measureBetween(surface, track, b, c, c);
      this.#measureBetween(surface, track, c, a, a);
      this.#measureBetween(surface, track, a, b, c);
    }
  }

  /** The middle of three points; the last may be the second again, for the middle of an edge. */
  #measureBetween(surface: ClothSurface, { nearest }: Track, a: number, b: number, c: number): void {
    const { positions: x, stride, points } = surface;
    const [p, q, r] = [stride * points[a]!, stride * points[b]!, stride * points[c]!];
    const share = b === c ? 0.25 : 1 / 3;
    const first = b === c ? 0.5 : share;
    const mx = first * x[p]! + share * (x[q]! + x[r]!);
    const my = first * x[p + 1]! + share * (x[q + 1]! + x[r + 1]!);
    const mz = first * x[p + 2]! + share * (x[q + 2]! + x[r + 2]!);
    const hint = nearest[a]! >= 0 ? nearest[a]! : nearest[b]! >= 0 ? nearest[b]! : nearest[c]!;
    const found = this.#skin.findNear(mx, my, mz, hint);
    if (found < 0) return;
    const depth = measureDepthAt(this.#skin, found, mx, my, mz);
    if (depth > 0 && depth <= MOST_DEPTH) takeDeeper(this.#result, depth, surface, a, mx, my, mz);
  }
}

/** Triangles that the skin can come through: with a corner inside, or nearer to it than any place of the triangle is to all corners. */
function markNear(
  { positions: x, stride, points, triangles }: ClothSurface,
  track: Track,
  near: Uint8Array,
): void {
  const { clearance, numberOf } = track;
  for (let t = 0; t < near.length; t++) {
    const a = numberOf[triangles[3 * t]!]!;
    const b = numberOf[triangles[3 * t + 1]!]!;
    const c = numberOf[triangles[3 * t + 2]!]!;
    const least = Math.min(clearance[a]!, clearance[b]!, clearance[c]!);
    if (least <= 0) {
      near[t] = 1;
      continue;
    }
    let longest = 0;
    for (let side = 0; side < 3; side++) {
      const p = stride * points[side === 0 ? a : side === 1 ? b : c]!;
      const q = stride * points[side === 0 ? b : side === 1 ? c : a]!;
      const dx = x[p]! - x[q]!;
      const dy = x[p + 1]! - x[q + 1]!;
      const dz = x[p + 2]! - x[q + 2]!;
      longest = Math.max(longest, dx * dx + dy * dy + dz * dz);
    }
    near[t] = 3 * least * least <= longest ? 1 : 0;
  }
}

function takeDeeper(
  result: Penetration,
  depth: number,
  surface: ClothSurface,
  point: number,
  x: number,
  y: number,
  z: number,
): void {
  if (depth <= result.depth) return;
  result.depth = depth;
  result.deepest = { surface, point, position: [x, y, z] };
}
