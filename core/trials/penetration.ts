import type { ClothSurface, ClothSurfaces } from './cloth-surfaces.ts';
import { measureDepthAt } from './skin/measure-depth.ts';
import { CELL } from './skin/point-grid.ts';
import { NEAR, type PosedSkin } from './skin/posed-skin.ts';

/** How deep the deepest place of a garment lies in the body. */
export interface Penetration {
  /** m */
  depth: number;
  /** The surface, null when nothing is inside; the number of the nearest of its points, and where. */
  surface: ClothSurface | null;
  point: number;
  position: [number, number, number];
}

/** Deeper than this, m, the nearest skin is another limb's: not this place's depth. */
const MOST_DEPTH = 0.15;
/** A triangle is off the skin when its corners are so many times farther from it than skin of its bend rises over a chord as long, and so much more, m. */
const OVER_CHORD = 2;
const OFF_SKIN = 0.003;
/** Triangles may grow by so much from frame to frame before all around them is looked at as if it could be anything. */
const SPARE = 1.1;
/** More bent than any skin, 1/m. */
const SHARPEST = 1e4;

/** What is known of the points of one surface from the last frame. [points] each */
interface Track {
  /** Nearest point of the skin, -1: none near; and the way from it, m, [points, 3]. */
  nearest: Int32Array;
  offset: Float32Array;
  /** Way to the skin, m: below 0 inside. Where none is near, or it is more than `need`, at least so far. */
  clearance: Float32Array;
  before: Float32Array;
  /** Of rows: the number in `points`. */
  numberOf: Int32Array;
  /** Skin is looked for so far around each point, m: as far as the middle of the largest triangle is from its corners, up to NEAR. */
  reach: number;
  /** A point that is farther from the skin than this, m, brings none of its triangles near to it, unless they grow. */
  need: Float32Array;
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
  /** By garment. */
  readonly #results: Penetration[] = [];
  readonly #garmentCount: number;
  #isFirst = true;

  constructor(skin: PosedSkin, surfaces: ClothSurfaces) {
    this.#garmentCount = Math.max(0, ...surfaces.surfaces.map(({ garment }) => garment + 1));
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
        offset: new Float32Array(3 * points.length),
        clearance: new Float32Array(points.length),
        before: new Float32Array(3 * points.length),
        numberOf,
        reach: NEAR,
        need: new Float32Array(points.length).fill(Number.POSITIVE_INFINITY),
      };
    });
  }

  /** What comes next is not the next frame: a point without skin near it is taken to be outside then, however far the skin went. */
  forget(): void {
    for (const { clearance, need } of this.#tracks) {
      clearance.fill(Number.MAX_VALUE);
      need.fill(Number.POSITIVE_INFINITY);
    }
  }

  /** Looks at the points as they stand. @returns triangles that the skin may come through, by surface, [t] each. */
  followPoints(): readonly Uint8Array[] {
    for (let g = 0; g < this.#garmentCount; g++)
      this.#results[g] = { depth: 0, surface: null, point: 0, position: [0, 0, 0] };
    this.#surfaces.surfaces.forEach((surface, s) => {
      if (this.#skin.isEmpty) return;
      this.#measurePoints(surface, this.#tracks[s]!);
      markNear(surface, this.#tracks[s]!, this.#skin.model.bends, this.#near[s]!);
    });
    this.#isFirst = false;
    return this.#near;
  }

  /** The depth of each garment. @param pierced - Triangles that the skin comes through, by surface, [t] each. */
  measure(pierced: readonly Uint8Array[]): readonly Penetration[] {
    this.#surfaces.surfaces.forEach((surface, s) => {
      if (!this.#skin.isEmpty) this.#measureFaces(surface, this.#tracks[s]!, pierced[s]!);
    });
    return this.#results;
  }

  /** Tells of each point of cloth inside the body, as of the last look at them: the nearest point of the skin, by its number in the skin's model, and how deep it is, m. */
  visitInside(visit: (surface: ClothSurface, skinPoint: number, depth: number) => void): void {
    this.#tracks.forEach(({ clearance, nearest }, s) => {
      const surface = this.#surfaces.surfaces[s]!;
      for (let i = 0; i < clearance.length; i++) {
        if (nearest[i]! >= 0 && clearance[i]! < 0) visit(surface, nearest[i]!, -clearance[i]!);
      }
    });
  }

  #measurePoints(surface: ClothSurface, track: Track): void {
    const { positions, stride, points } = surface;
    const { nearest, clearance, before, need } = track;
    for (let i = 0; i < points.length; i++) {
      const o = stride * points[i]!;
      const x = positions[o]!;
      const y = positions[o + 1]!;
      const z = positions[o + 2]!;
      const was = nearest[i]!;
      let found = this.#skin.findNear(x, y, z, was, track.reach);
      if (found < 0) {
        const dx = before[3 * i]! - x;
        const dy = before[3 * i + 1]! - y;
        const dz = before[3 * i + 2]! - z;
        found = this.#findBeyond(track, i, x, y, z, Math.sqrt(dx * dx + dy * dy + dz * dz));
      }
      before[3 * i] = x;
      before[3 * i + 1] = y;
      before[3 * i + 2] = z;
      nearest[i] = found;
      if (found < 0) continue;
      const moved = this.#followOffset(track, i, x, y, z);
      if (found === was && clearance[i]! - 2 * moved > need[i]!) {
        clearance[i] = clearance[i]! - 2 * moved;
        continue;
      }
      const depth = measureDepthAt(this.#skin, found, x, y, z);
      clearance[i] = depth <= MOST_DEPTH ? -depth : CELL;
      if (depth > 0 && depth <= MOST_DEPTH)
        takeDeeper(this.#results[surface.garment]!, depth, surface, i, x, y, z);
    }
  }

  /**
   * For a point without skin within a cell: on the same side as before, unless the way was long enough to pass through it.
   * @param moved - How far it went since the last frame, m. @returns -1 when it is outside; its clearance is at least what stands then.
   */
  #findBeyond({ clearance }: Track, i: number, x: number, y: number, z: number, moved: number): number {
    const least = clearance[i]! - moved - this.#skin.boundMotion(x, y, z);
    if (!this.#isFirst && clearance[i]! >= 0) {
      clearance[i] = Math.max(CELL, least);
      if (least > -CELL) return -1;
      if (least > -NEAR) {
        // None within that way: it cannot have passed through.
        const found = this.#skin.findNear(x, y, z, -1, -least);
        if (found < 0) clearance[i] = -least;
        return found;
      }
    }
    return this.#skin.findFar(x, y, z);
  }

  /** Notes the way from the nearest point of the skin. @returns how much that changed, m, if it was the same point before. */
  #followOffset({ nearest, offset }: Track, i: number, x: number, y: number, z: number): number {
    const { positions } = this.#skin;
    const p = 3 * nearest[i]!;
    const ox = x - positions[p]!;
    const oy = y - positions[p + 1]!;
    const oz = z - positions[p + 2]!;
    const dx = ox - offset[3 * i]!;
    const dy = oy - offset[3 * i + 1]!;
    const dz = oz - offset[3 * i + 2]!;
    offset[3 * i] = ox;
    offset[3 * i + 1] = oy;
    offset[3 * i + 2] = oz;
    return Math.sqrt(dx * dx + dy * dy + dz * dz);
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
    if (depth > 0 && depth <= MOST_DEPTH)
      takeDeeper(this.#results[surface.garment]!, depth, surface, a, mx, my, mz);
  }
}

/**
 * Triangles that the skin can come through: with a corner inside, or nearer to it than any place of the triangle is to all corners, and
 * not so much farther off than the skin there is bent that it lies beneath all of it.
 *
 * @param bends - Of the skin's points, 1/m.
 */
function markNear(
  { positions: x, stride, points, triangles }: ClothSurface,
  track: Track,
  bends: Float32Array,
  near: Uint8Array,
): void {
  const { clearance, nearest, numberOf, need } = track;
  need.fill(0);
  let largest = 0;
  for (let t = 0; t < near.length; t++) {
    const a = numberOf[triangles[3 * t]!]!;
    const b = numberOf[triangles[3 * t + 1]!]!;
    const c = numberOf[triangles[3 * t + 2]!]!;
    const pa = stride * points[a]!;
    const pb = stride * points[b]!;
    const pc = stride * points[c]!;
    const longest = Math.max(square(x, pa, pb), square(x, pb, pc), square(x, pc, pa));
    // No place of the triangle is farther from its nearest corner than the root of this.
    const squared = longest / 3;
    largest = Math.max(largest, squared);
    // A corner without skin within reach has none beneath all that is nearest to it, unless the triangle is larger.
    const unknown = squared < track.reach * track.reach ? 0 : SHARPEST;
    const bend = Math.max(
      bendAt(bends, nearest[a]!, unknown),
      bendAt(bends, nearest[b]!, unknown),
      bendAt(bends, nearest[c]!, unknown),
    );
    const most = Math.min(Math.sqrt(squared), 0.5 * OVER_CHORD * bend * squared + OFF_SKIN);
    near[t] = Math.min(clearance[a]!, clearance[b]!, clearance[c]!) <= most ? 1 : 0;
    const needed = SPARE * most;
    if (need[a]! < needed) need[a] = needed;
    if (need[b]! < needed) need[b] = needed;
    if (need[c]! < needed) need[c] = needed;
  }
  track.reach = Math.min(NEAR, Math.max(CELL, SPARE * Math.sqrt(largest)));
}

/** @param unknown - What stands for the bend where no skin is near. */
function bendAt(bends: Float32Array, point: number, unknown: number): number {
  return point < 0 ? unknown : bends[point]!;
}

function square(x: Float32Array, p: number, q: number): number {
  const dx = x[p]! - x[q]!;
  const dy = x[p + 1]! - x[q + 1]!;
  const dz = x[p + 2]! - x[q + 2]!;
  return dx * dx + dy * dy + dz * dz;
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
  result.surface = surface;
  result.point = point;
  result.position = [x, y, z];
}
