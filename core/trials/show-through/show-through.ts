import type { CharacterRun } from '../../run/index.ts';
import type { ClothSurfaces } from '../cloth-surfaces.ts';
import { PointGrid } from '../skin/point-grid.ts';
import type { PosedSkin } from '../skin/posed-skin.ts';
import { InnerGarments } from './inner-garments.ts';
import { type Cover, createCover } from './underlay.ts';
import { over, visitPointsOver } from './visit-points-over.ts';

/** What stands out of one garment. */
export interface Shown {
  /** m² */
  area: number;
  /** How far at most, m, and where that is, world space; null when nothing does. */
  depth: number;
  position: [number, number, number] | null;
}

/** What stands out of the cloth that covers it, by garment that it stands out of. */
export interface ShowThrough {
  /** Skin, and garments beneath. [garments] */
  all: readonly Shown[];
  /** Garments beneath alone. [garments] */
  layers: readonly Shown[];
}

/** Told of a point of the skin, of the area that it stands for, m², and how deep the fault is there, m. */
export type OnSkin = (skinPoint: number, area: number, depth: number) => void;

/** Farther above cloth, m, is held or worn outside. */
const MOST_ABOVE = 0.04;
/** How far beneath cloth, m, something is hidden by it; and at the moments at which it is noted what is. */
const HIDDEN = 0.025;
const COVERED = 0.06;
/** Least cosine between the normals of cloth and of what is covered by it. */
const ALIKE = 0.3;
/** What is covered is noted every so many frames. */
const NOTE_EVERY = 30;

/**
 * What a player sees that should be hidden: skin that stands out of the cloth that covers it, and an inner garment out of an outer.
 *
 * A point counts when it stands 0 to 40 mm above a triangle of cloth, on its outer side, its normal agreeing; less far than what it belongs to
 * is thick there in bind pose (a hand that lies on cloth stands above it by its whole thickness); no other cloth lies over it; and
 * the garment covered it before, in bind pose or since. Ours.
 */
export class ShowThroughMeasure {
  /** Triangles with a point of the body above them, by surface: [t] each. */
  readonly pierced: readonly Uint8Array[];
  readonly #surfaces: ClothSurfaces;
  readonly #body: Cover | null;
  readonly #inner: InnerGarments | null;
  readonly #innerCover: Cover | null;
  /** Of each garment: for all garments, whether it is worn over them; null: over none. */
  readonly #isBeneath: readonly (readonly boolean[] | null)[];
  readonly #normal = new Float64Array(3);
  #frame = 0;

  constructor(run: CharacterRun, skin: PosedSkin, surfaces: ClothSurfaces) {
    this.#surfaces = surfaces;
    const { positions, grid, model } = skin;
    const { areas, thickness } = model;
    const writeNormal = (point: number, out: Float64Array): void => skin.writeNormal(point, out);
    this.#body = skin.isEmpty
      ? null
      : createCover({ positions, areas, thickness, grid, garments: null, writeNormal }, new PointGrid());
    this.#isBeneath = run.garments.map(({ beneath }) =>
      beneath.length > 0 ? run.garments.map((garment) => beneath.includes(garment)) : null,
    );
    const isInner = run.garments.map((_, g) => this.#isBeneath.some((list) => list?.[g]));
    const inner = surfaces.surfaces.filter(({ garment }) => isInner[garment]);
    this.#inner = inner.length > 0 ? new InnerGarments(inner) : null;
    this.#innerCover = this.#inner && createCover(this.#inner.underlay, new PointGrid());
    this.pierced = surfaces.surfaces.map(({ triangles }) => new Uint8Array(triangles.length / 3));
  }

  /** Notes what is covered now. Skin and surfaces stand where they are. */
  noteCovers(): void {
    this.#inner?.follow();
    for (const cover of this.#covers()) this.#noteCover(cover);
  }

  /**
   * Of the present moment: skin and surfaces stand where they are.
   * @param near - Triangles that the body may come through, by surface, [t] each.
   * @param onSkin - Told of each point of the skin that counts, by its number in the skin's model, with its area, m², and how far it stands out, m.
   */
  measure(near: readonly Uint8Array[], onSkin?: OnSkin): ShowThrough {
    this.#inner?.follow();
    const [all, layers] = [0, 1].map(() => this.#isBeneath.map(createShown)) as [Shown[], Shown[]];
    for (const pierced of this.pierced) pierced.fill(0);
    for (const cover of this.#covers()) {
      this.#findAbove(cover, near);
      this.#dropHidden(cover);
      addUp(cover, cover === this.#body ? [all] : [all, layers], cover === this.#body ? onSkin : undefined);
      for (let i = 0; i < cover.count; i++) cover.above[cover.points[i]!] = Number.POSITIVE_INFINITY;
      cover.count = 0;
      if (this.#frame % NOTE_EVERY === 0) this.#noteCover(cover);
    }
    this.#frame++;
    return { all, layers };
  }

  #covers(): Cover[] {
    return [this.#body, this.#innerCover].filter((cover) => !!cover);
  }

  /** Whether a garment can cover a point at all: it is the body's, or of a garment beneath. */
  #isOver(cover: Cover, garment: number, point: number): boolean {
    const { garments } = cover.underlay;
    return !garments || !!this.#isBeneath[garment]?.[garments[point]!];
  }

  /** Whether the normal of a point that is visited agrees with that of the triangle. */
  #agrees({ underlay }: Cover, point: number): boolean {
    underlay.writeNormal(point, this.#normal);
    const [x, y, z] = this.#normal as unknown as [number, number, number];
    return x * over.nx + y * over.ny + z * over.nz >= ALIKE * Math.sqrt(x * x + y * y + z * z);
  }

  #noteCover(cover: Cover): void {
    const { coveredBy, underlay } = cover;
    for (const surface of this.#surfaces.surfaces) {
      const { garment } = surface;
      const bit = 1 << (garment & 31);
      visitPointsOver(surface, underlay.grid, -COVERED, 0, null, (point) => {
        if (coveredBy[point]! & bit || !this.#isOver(cover, garment, point)) return;
        if (this.#agrees(cover, point)) coveredBy[point] = coveredBy[point]! | bit;
      });
    }
  }

  #findAbove(cover: Cover, near: readonly Uint8Array[]): void {
    const { coveredBy, above, aboveOf, points, underlay } = cover;
    const isBody = underlay.garments === null;
    this.#surfaces.surfaces.forEach((surface, s) => {
      const { garment } = surface;
      if (!isBody && !this.#isBeneath[garment]) return;
      const bit = 1 << (garment & 31);
      const pierced = this.pierced[s]!;
      const wanted = isBody ? near[s]! : null;
      visitPointsOver(surface, underlay.grid, 0, MOST_ABOVE, wanted, (point, triangle) => {
        if (isBody) pierced[triangle] = 1;
        const { height } = over;
        if (!(coveredBy[point]! & bit) || height >= underlay.thickness[point]!) return;
        if (!this.#isOver(cover, garment, point) || !(height < above[point]!)) return;
        if (!this.#agrees(cover, point)) return;
        if (above[point] === Number.POSITIVE_INFINITY) points[cover.count++] = point;
        above[point] = height;
        aboveOf[point] = garment;
      });
    });
  }

  /** Forgets points over which other cloth lies. */
  #dropHidden(cover: Cover): void {
    if (cover.count === 0) return;
    const { above, underlay, grid, points } = cover;
    grid.fill(underlay.positions, points, cover.count);
    const [low, high] = boundPoints(underlay.positions, points, cover.count);
    for (const surface of this.#surfaces.surfaces) {
      const { garment } = surface;
      const around = markWithin(surface, low, high);
      visitPointsOver(surface, grid, -HIDDEN, 0, around, (point) => {
        if (!this.#isOver(cover, garment, point) || !this.#agrees(cover, point)) return;
        above[point] = Number.POSITIVE_INFINITY;
      });
    }
  }
}

function boundPoints(positions: Float32Array, points: Uint32Array, count: number): [number[], number[]] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k]!, positions[3 * points[i]! + k]!);
      high[k] = Math.max(high[k]!, positions[3 * points[i]! + k]!);
    }
  }
  return [low, high];
}

/** Triangles with a corner within reach of a box, [t]; others are too far to hide what is in it, unless very large. */
function markWithin(
  { positions, stride, triangles }: ClothSurfaces['surfaces'][number],
  low: readonly number[],
  high: readonly number[],
): Uint8Array {
  const marks = new Uint8Array(triangles.length / 3);
  const beyond = HIDDEN + MOST_ABOVE;
  for (let i = 0; i < triangles.length; i++) {
    const o = stride * triangles[i]!;
    let isWithin = true;
    for (let k = 0; k < 3; k++) {
      const value = positions[o + k]!;
      if (value < low[k]! - beyond || value > high[k]! + beyond) isWithin = false;
    }
    if (isWithin) marks[Math.floor(i / 3)] = 1;
  }
  return marks;
}

function createShown(): Shown {
  return { area: 0, depth: 0, position: null };
}

/** @param sums - Lists of garments to which each point is added. */
function addUp(
  { underlay, above, aboveOf, points, count }: Cover,
  sums: readonly (readonly Shown[])[],
  onPoint?: OnSkin,
): void {
  const { positions, areas } = underlay;
  for (let i = 0; i < count; i++) {
    const p = points[i]!;
    const height = above[p]!;
    if (height === Number.POSITIVE_INFINITY) continue;
    onPoint?.(p, areas[p]!, height);
    for (const sum of sums) {
      const shown = sum[aboveOf[p]!]!;
      shown.area += areas[p]!;
      if (height <= shown.depth) continue;
      shown.depth = height;
      shown.position = [positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!];
    }
  }
}
