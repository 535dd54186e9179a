import type { Character, Pose } from '../../rig/index.ts';
import { CELL, PointGrid } from './point-grid.ts';
import {
  blendClusters,
  blendSkin,
  type ClusterBlend,
  findMatrixStarts,
  type SkinBlend,
} from './skin-blend.ts';
import { getSkinModel, joinPositions, type SkinModel } from './skin-model.ts';

/** Low and high corner. */
export type Box = readonly [number, number, number, number, number, number];

/** One box around everything. */
export const EVERYWHERE: readonly Box[] = [[-1e9, -1e9, -1e9, 1e9, 1e9, 1e9]];

/** Skin this near to a box, m, is looked at in it: as far as cloth covers. */
export const NEAR = 0.06;
/** Numbers of a sphere: middle and radius. */
const SPHERE = 4;
/** Numbers of a fast cluster. */
const FAST = 5;

/**
 * The body in the pose of a run, as far as it is near what is asked for: clusters of points are skinned only when they come near.
 * Their spheres follow from the joints alone: a skinned point lies between where its joints carry it.
 */
export class PosedSkin {
  readonly model: SkinModel;
  /** [n, 3] metres, as of this pose for points that were asked for. */
  readonly positions: Float32Array;
  /** Points near the boxes of this frame, by place. */
  readonly grid = new PointGrid();
  /**
   * Of the clusters near the boxes that moved farther than a cell since the last frame, the fastest first: their middle, the square of how
   * far skin of theirs may have come from there, and how far it moved at most, m. `FAST` numbers each.
   */
  #fast = new Float64Array(0);
  readonly #character: Character;
  readonly #sections: readonly number[];
  #blend: SkinBlend;
  #clusterBlend: ClusterBlend;
  readonly #matrixStarts: readonly number[];
  /** Of all skins, one after the other, now and in the last frame. */
  #matrices: Float32Array;
  #matricesBefore: Float32Array;
  /** Middle and radius of each cluster in its own bind places, and in the pose. */
  readonly #bindSpheres: Float64Array;
  readonly #spheres: Float64Array;
  readonly #clusterOfPoint: Uint32Array;
  /** Frame in which each cluster was skinned last. */
  readonly #skinnedIn: Uint32Array;
  #frame = 0;
  /** Weights of the morphs that the blend is made for. */
  #morphs: string;
  readonly #active: Uint32Array;

  constructor(character: Character, sections: readonly number[]) {
    this.#character = character;
    this.#sections = sections;
    this.model = getSkinModel(character, sections);
    const { pointCount, clusters } = this.model;
    this.positions = new Float32Array(3 * pointCount);
    this.#matrixStarts = findMatrixStarts(character);
    this.#matrices = new Float32Array(this.#matrixStarts[character.skins.length]!);
    this.#matricesBefore = this.#matrices.slice();
    const clusterCount = clusters.length - 1;
    this.#bindSpheres = new Float64Array(SPHERE * clusterCount);
    this.#spheres = new Float64Array(SPHERE * clusterCount);
    this.#skinnedIn = new Uint32Array(clusterCount);
    this.#active = new Uint32Array(pointCount);
    this.#clusterOfPoint = new Uint32Array(pointCount);
    for (let c = 0; c < clusterCount; c++) this.#clusterOfPoint.fill(c, clusters[c]!, clusters[c + 1]!);
    const weights = sections.map((index) => character.sections[index]!.morphWeights);
    this.#morphs = nameWeights(weights);
    this.#blend = blendSkin(this.model, character, joinPositions(this.model.sections, weights));
    this.#clusterBlend = blendClusters(this.model, this.#blend);
    this.#boundClusters();
  }

  get isEmpty(): boolean {
    return this.model.triangles.length === 0;
  }

  /**
   * Takes a pose; points near the boxes stand in `positions` and in the grid afterwards.
   * @param skinMatrices - Per skin, [joints, 16].
   */
  follow(pose: Pose, skinMatrices: readonly Float32Array[], boxes: readonly Box[]): void {
    const weights = this.#sections.map((index) => pose.morphWeights[index]!);
    this.#takeMorphs(weights);
    [this.#matrices, this.#matricesBefore] = [this.#matricesBefore, this.#matrices];
    skinMatrices.forEach((matrices, skin) => {
      this.#matrices.set(matrices, this.#matrixStarts[skin]!);
    });
    this.#frame++;
    const { clusters } = this.model;
    let count = 0;
    const fast: { cluster: number; motion: number }[] = [];
    for (let c = 0; c + 1 < clusters.length; c++) {
      const motion = this.#poseSphere(c);
      if (!this.#isNearAny(c, boxes)) continue;
      if (motion > CELL) fast.push({ cluster: c, motion });
      this.#skin(c);
      for (let p = clusters[c]!; p < clusters[c + 1]!; p++)
        if (!this.model.isBuried[p]) this.#active[count++] = p;
    }
    this.#noteFast(fast);
    this.grid.fill(this.positions, this.#active, count);
  }

  #noteFast(clusters: { cluster: number; motion: number }[]): void {
    clusters.sort((p, q) => q.motion - p.motion);
    this.#fast = new Float64Array(FAST * clusters.length);
    clusters.forEach(({ cluster, motion }, i) => {
      const [x, y, z, radius] = this.#spheres.subarray(SPHERE * cluster) as unknown as [
        number,
        number,
        number,
        number,
      ];
      this.#fast.set([x, y, z, (radius + motion) ** 2, motion], FAST * i);
    });
  }

  /** Writes the skinned normal of a point, of any length. */
  writeNormal(point: number, out: Float64Array): void {
    const { start, matrices, normals } = this.#blend;
    const m = this.#matrices;
    out.fill(0);
    for (let e = start[point]!; e < start[point + 1]!; e++) {
      for (let k = 0; k < 3; k++) {
        const at = matrices[e]! + k;
        out[k] =
          out[k]! +
          m[at]! * normals[3 * e]! +
          m[at + 4]! * normals[3 * e + 1]! +
          m[at + 8]! * normals[3 * e + 2]!;
      }
    }
  }

  /** How far skin that may have come by a place moved at most since the last frame, m; a cell where none moved farther. */
  boundMotion(x: number, y: number, z: number): number {
    const fast = this.#fast;
    for (let o = 0; o < fast.length; o += FAST) {
      const dx = fast[o]! - x;
      const dy = fast[o + 1]! - y;
      const dz = fast[o + 2]! - z;
      if (dx * dx + dy * dy + dz * dz < fast[o + 3]!) return fast[o + 4]!;
    }
    return CELL;
  }

  /** Makes sure that a point stands in `positions`. */
  ensure(point: number): void {
    const c = this.#clusterOfPoint[point]!;
    if (this.#skinnedIn[c] !== this.#frame) this.#skin(c);
  }

  /**
   * The nearest point of the skin within some distance of a place.
   * @param hint - A point that may be near, or -1. @param most - m, up to NEAR. @returns -1 when there is none.
   */
  findNear(x: number, y: number, z: number, hint: number, most = CELL): number {
    const { start, list, rows, low, size, perCell } = this.grid;
    let best = most * most;
    let found = -1;
    if (hint >= 0) {
      this.ensure(hint);
      const squared = this.#squaredTo(hint, x, y, z);
      if (squared < best) {
        best = squared;
        found = hint;
      }
    }
    const reach = Math.sqrt(best);
    const sizeY = size[1]!;
    const sizeZ = size[2]!;
    const x0 = Math.max(0, Math.floor((x - reach - low[0]!) * perCell));
    const x1 = Math.min(size[0]! - 1, Math.floor((x + reach - low[0]!) * perCell));
    const y0 = Math.max(0, Math.floor((y - reach - low[1]!) * perCell));
    const y1 = Math.min(sizeY - 1, Math.floor((y + reach - low[1]!) * perCell));
    const z0 = Math.max(0, Math.floor((z - reach - low[2]!) * perCell));
    const z1 = Math.min(sizeZ - 1, Math.floor((z + reach - low[2]!) * perCell));
    if (z0 > z1) return found;
    for (let cx = x0; cx <= x1; cx++) {
      for (let cy = y0; cy <= y1; cy++) {
        const row = (cx * sizeY + cy) * sizeZ;
        const end = start[row + z1 + 1]!;
        for (let i = start[row + z0]!; i < end; i++) {
          const dx = rows[3 * i]! - x;
          const dy = rows[3 * i + 1]! - y;
          const dz = rows[3 * i + 2]! - z;
          const squared = dx * dx + dy * dy + dz * dz;
          if (squared < best) {
            best = squared;
            found = list[i]!;
          }
        }
      }
    }
    return found;
  }

  /** The nearest point of the whole skin, however far, -1 when there is none. Skins what it has to. */
  findFar(x: number, y: number, z: number): number {
    const { clusters, isBuried } = this.model;
    const spheres = this.#spheres;
    const clusterCount = clusters.length - 1;
    let best = Number.POSITIVE_INFINITY;
    for (let c = 0; c < clusterCount; c++)
      best = Math.min(best, this.#distanceTo(c, x, y, z) + spheres[SPHERE * c + 3]!);
    best = best * best * (1 + 1e-6);
    let found = -1;
    for (let c = 0; c < clusterCount; c++) {
      const least = this.#distanceTo(c, x, y, z) - spheres[SPHERE * c + 3]!;
      if (least > 0 && least * least > best) continue;
      if (this.#skinnedIn[c] !== this.#frame) this.#skin(c);
      for (let p = clusters[c]!; p < clusters[c + 1]!; p++) {
        if (isBuried[p]) continue;
        const squared = this.#squaredTo(p, x, y, z);
        if (squared < best || found < 0) {
          best = squared;
          found = p;
        }
      }
    }
    return found;
  }

  #squaredTo(point: number, x: number, y: number, z: number): number {
    const dx = this.positions[3 * point]! - x;
    const dy = this.positions[3 * point + 1]! - y;
    const dz = this.positions[3 * point + 2]! - z;
    return dx * dx + dy * dy + dz * dz;
  }

  #distanceTo(c: number, x: number, y: number, z: number): number {
    const o = SPHERE * c;
    const dx = this.#spheres[o]! - x;
    const dy = this.#spheres[o + 1]! - y;
    const dz = this.#spheres[o + 2]! - z;
    return Math.sqrt(dx * dx + dy * dy + dz * dz);
  }

  #isNearAny(c: number, boxes: readonly Box[]): boolean {
    for (let i = 0; i < boxes.length; i++) if (this.#isNear(c, boxes[i]!)) return true;
    return false;
  }

  #isNear(c: number, box: Box): boolean {
    let squared = 0;
    for (let k = 0; k < 3; k++) {
      const value = this.#spheres[SPHERE * c + k]!;
      const beyond = Math.max(box[k]! - value, 0, value - box[3 + k]!);
      squared += beyond * beyond;
    }
    const reach = this.#spheres[SPHERE * c + 3]! + NEAR;
    return squared <= reach * reach;
  }

  /** Places a cluster's sphere. @returns how far any of its points moved at most since the last frame, m. */
  #poseSphere(c: number): number {
    const { start, matrices } = this.#clusterBlend;
    const m = this.#matrices;
    const before = this.#matricesBefore;
    const spheres = this.#spheres;
    const o = SPHERE * c;
    const bx = this.#bindSpheres[o]!;
    const by = this.#bindSpheres[o + 1]!;
    const bz = this.#bindSpheres[o + 2]!;
    const radius = this.#bindSpheres[o + 3]!;
    const first = start[c]!;
    const end = start[c + 1]!;
    let x = 0;
    let y = 0;
    let z = 0;
    let motion = 0;
    for (let j = first; j < end; j++) {
      const at = matrices[j]!;
      let turned = 0;
      for (let i = at; i < at + 12; i += 4) {
        const dx = m[i]! - before[i]!;
        const dy = m[i + 1]! - before[i + 1]!;
        const dz = m[i + 2]! - before[i + 2]!;
        turned += dx * dx + dy * dy + dz * dz;
      }
      const px = carry(m, at, bx, by, bz);
      const py = carry(m, at + 1, bx, by, bz);
      const pz = carry(m, at + 2, bx, by, bz);
      const dx = px - carry(before, at, bx, by, bz);
      const dy = py - carry(before, at + 1, bx, by, bz);
      const dz = pz - carry(before, at + 2, bx, by, bz);
      x += px;
      y += py;
      z += pz;
      motion = Math.max(motion, Math.sqrt(dx * dx + dy * dy + dz * dz) + radius * Math.sqrt(turned));
    }
    const share = 1 / (end - first);
    x *= share;
    y *= share;
    z *= share;
    let reach = 0;
    for (let j = first; j < end; j++) {
      const at = matrices[j]!;
      const dx = carry(m, at, bx, by, bz) - x;
      const dy = carry(m, at + 1, bx, by, bz) - y;
      const dz = carry(m, at + 2, bx, by, bz) - z;
      let scale = 0;
      for (let i = at; i < at + 12; i += 4)
        scale = Math.max(scale, m[i]! * m[i]! + m[i + 1]! * m[i + 1]! + m[i + 2]! * m[i + 2]!);
      // A joint's axes may be scaled apart; √3 of the longest bounds any such matrix.
      const most = scale < 1.0001 ? 1.0001 : Math.sqrt(3 * scale);
      reach = Math.max(reach, Math.sqrt(dx * dx + dy * dy + dz * dz) + radius * most);
    }
    spheres[o] = x;
    spheres[o + 1] = y;
    spheres[o + 2] = z;
    spheres[o + 3] = reach;
    return motion;
  }

  #skin(c: number): void {
    const { start, matrices, entries, points, places } = this.#clusterBlend;
    const { positions, model } = this;
    const m = this.#matrices;
    this.#skinnedIn[c] = this.#frame;
    positions.fill(0, 3 * model.clusters[c]!, 3 * model.clusters[c + 1]!);
    for (let run = start[c]!; run < start[c + 1]!; run++) {
      const at = matrices[run]!;
      const m0 = m[at]!;
      const m1 = m[at + 1]!;
      const m2 = m[at + 2]!;
      const m4 = m[at + 4]!;
      const m5 = m[at + 5]!;
      const m6 = m[at + 6]!;
      const m8 = m[at + 8]!;
      const m9 = m[at + 9]!;
      const m10 = m[at + 10]!;
      const m12 = m[at + 12]!;
      const m13 = m[at + 13]!;
      const m14 = m[at + 14]!;
      const end = entries[run + 1]!;
      for (let e = entries[run]!; e < end; e++) {
        const x = places[4 * e]!;
        const y = places[4 * e + 1]!;
        const z = places[4 * e + 2]!;
        const w = places[4 * e + 3]!;
        const o = 3 * points[e]!;
        positions[o] = positions[o]! + m0 * x + m4 * y + m8 * z + m12 * w;
        positions[o + 1] = positions[o + 1]! + m1 * x + m5 * y + m9 * z + m13 * w;
        positions[o + 2] = positions[o + 2]! + m2 * x + m6 * y + m10 * z + m14 * w;
      }
    }
  }

  /** Bind places with morphs at other weights, when they differ. */
  #takeMorphs(weights: readonly ArrayLike<number>[]): void {
    const morphs = nameWeights(weights);
    if (morphs === this.#morphs) return;
    this.#morphs = morphs;
    const { model } = this;
    this.#blend = blendSkin(model, this.#character, joinPositions(model.sections, weights));
    this.#clusterBlend = blendClusters(model, this.#blend);
    this.#boundClusters();
  }

  #boundClusters(): void {
    const { clusters } = this.model;
    const { start, places } = this.#blend;
    for (let c = 0; c + 1 < clusters.length; c++) {
      // Around the section's own places of its points: the entries over their weights.
      const [first, end] = [start[clusters[c]!]!, start[clusters[c + 1]!]!];
      const low = [Infinity, Infinity, Infinity];
      const high = [-Infinity, -Infinity, -Infinity];
      for (let e = first; e < end; e++) {
        for (let k = 0; k < 3; k++) {
          const value = places[4 * e + k]! / places[4 * e + 3]!;
          low[k] = Math.min(low[k]!, value);
          high[k] = Math.max(high[k]!, value);
        }
      }
      const middle = low.map((value, k) => 0.5 * (value + high[k]!));
      let squared = 0;
      for (let e = first; e < end; e++) {
        const away = middle.reduce(
          (sum, value, k) => sum + (places[4 * e + k]! / places[4 * e + 3]! - value) ** 2,
          0,
        );
        squared = Math.max(squared, away);
      }
      this.#bindSpheres.set([...middle, Math.sqrt(squared)], SPHERE * c);
    }
  }
}

/** One coordinate of a place that a matrix carries; `at` is the first number of its row. */
function carry(m: Float32Array, at: number, x: number, y: number, z: number): number {
  return m[at]! * x + m[at + 4]! * y + m[at + 8]! * z + m[at + 12]!;
}

function nameWeights(weights: readonly ArrayLike<number>[]): string {
  return weights.map((list) => Array.from(list).join()).join(';');
}
