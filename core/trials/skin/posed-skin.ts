import type { Character, Pose } from '../../rig/index.ts';
import { CELL, findBucket, PointGrid } from './point-grid.ts';
import { blendSkin, findMatrixStarts, listClusterMatrices, type SkinBlend } from './skin-blend.ts';
import { getSkinModel, joinPositions, type SkinModel } from './skin-model.ts';

/** Low and high corner. */
export type Box = readonly [number, number, number, number, number, number];

/** Skin this near to a box, m, is looked at in it: as far as cloth covers. */
const NEAR = 0.06;
/** Numbers of a sphere: middle and radius. */
const SPHERE = 4;

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
  /** Clusters near the boxes that moved farther than a cell since the last frame, and how far at most, m. */
  readonly #fast: number[] = [];
  readonly #motions: number[] = [];
  readonly #character: Character;
  readonly #sections: readonly number[];
  #blend: SkinBlend;
  #clusterMatrices: { start: Uint32Array; list: Uint32Array };
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
    this.#clusterMatrices = listClusterMatrices(this.model, this.#blend);
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
    this.#fast.length = this.#motions.length = 0;
    for (let c = 0; c + 1 < clusters.length; c++) {
      const motion = this.#poseSphere(c);
      if (!boxes.some((box) => this.#isNear(c, box))) continue;
      if (motion > CELL) {
        this.#fast.push(c);
        this.#motions.push(motion);
      }
      this.#skin(c);
      for (let p = clusters[c]!; p < clusters[c + 1]!; p++)
        if (!this.model.isBuried[p]) this.#active[count++] = p;
    }
    this.grid.fill(this.positions, this.#active, count);
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
    let most = CELL;
    for (let i = 0; i < this.#fast.length; i++) {
      const c = this.#fast[i]!;
      const motion = this.#motions[i]!;
      if (motion > most && this.#distanceTo(c, x, y, z) < this.#spheres[SPHERE * c + 3]! + motion)
        most = motion;
    }
    return most;
  }

  /** Makes sure that a point stands in `positions`. */
  ensure(point: number): void {
    const c = this.#clusterOfPoint[point]!;
    if (this.#skinnedIn[c] !== this.#frame) this.#skin(c);
  }

  /**
   * The nearest point of the skin within a cell of a place.
   * @param hint - A point that may be near, or -1. @returns -1 when there is none.
   */
  findNear(x: number, y: number, z: number, hint: number): number {
    const { start, list, rows } = this.grid;
    let best = CELL * CELL;
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
    const x1 = Math.floor((x + reach) / CELL);
    const y1 = Math.floor((y + reach) / CELL);
    const z1 = Math.floor((z + reach) / CELL);
    for (let cx = Math.floor((x - reach) / CELL); cx <= x1; cx++) {
      for (let cy = Math.floor((y - reach) / CELL); cy <= y1; cy++) {
        for (let cz = Math.floor((z - reach) / CELL); cz <= z1; cz++) {
          const bucket = findBucket(cx, cy, cz);
          const end = start[bucket + 1]!;
          for (let i = start[bucket]!; i < end; i++) {
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
    const { start, list } = this.#clusterMatrices;
    const o = SPHERE * c;
    const [bx, by, bz, radius] = this.#bindSpheres.subarray(o, o + SPHERE) as unknown as [
      number,
      number,
      number,
      number,
    ];
    const count = start[c + 1]! - start[c]!;
    const middle = [0, 0, 0];
    let motion = 0;
    const m = this.#matrices;
    const before = this.#matricesBefore;
    for (let j = start[c]!; j < start[c + 1]!; j++) {
      const at = list[j]!;
      let turned = 0;
      let moved = 0;
      for (let k = 0; k < 3; k++) {
        const place = m[at + k]! * bx + m[at + 4 + k]! * by + m[at + 8 + k]! * bz + m[at + 12 + k]!;
        const was =
          before[at + k]! * bx + before[at + 4 + k]! * by + before[at + 8 + k]! * bz + before[at + 12 + k]!;
        middle[k] = middle[k]! + place / count;
        moved += (place - was) ** 2;
        for (let i = 0; i < 12; i += 4) turned += (m[at + i + k]! - before[at + i + k]!) ** 2;
      }
      motion = Math.max(motion, Math.sqrt(moved) + radius * Math.sqrt(turned));
    }
    let reach = 0;
    for (let j = start[c]!; j < start[c + 1]!; j++) {
      const at = list[j]!;
      let away = 0;
      let scale = 0;
      for (let k = 0; k < 3; k++) {
        const place = m[at + k]! * bx + m[at + 4 + k]! * by + m[at + 8 + k]! * bz + m[at + 12 + k]!;
        away += (place - middle[k]!) ** 2;
        scale = Math.max(scale, m[at + 4 * k]! ** 2 + m[at + 4 * k + 1]! ** 2 + m[at + 4 * k + 2]! ** 2);
      }
      // A joint's axes may be scaled apart; √3 of the longest bounds any such matrix.
      const most = scale < 1.0001 ? 1.0001 : Math.sqrt(3 * scale);
      reach = Math.max(reach, Math.sqrt(away) + radius * most);
    }
    for (let k = 0; k < 3; k++) this.#spheres[o + k] = middle[k]!;
    this.#spheres[o + 3] = reach;
    return motion;
  }

  #skin(c: number): void {
    const { clusters } = this.model;
    const { start, matrices, places } = this.#blend;
    const m = this.#matrices;
    this.#skinnedIn[c] = this.#frame;
    for (let p = clusters[c]!; p < clusters[c + 1]!; p++) {
      let x = 0;
      let y = 0;
      let z = 0;
      for (let e = start[p]!; e < start[p + 1]!; e++) {
        const at = matrices[e]!;
        const a = places[4 * e]!;
        const b = places[4 * e + 1]!;
        const c0 = places[4 * e + 2]!;
        const w = places[4 * e + 3]!;
        x += m[at]! * a + m[at + 4]! * b + m[at + 8]! * c0 + m[at + 12]! * w;
        y += m[at + 1]! * a + m[at + 5]! * b + m[at + 9]! * c0 + m[at + 13]! * w;
        z += m[at + 2]! * a + m[at + 6]! * b + m[at + 10]! * c0 + m[at + 14]! * w;
      }
      this.positions[3 * p] = x;
      this.positions[3 * p + 1] = y;
      this.positions[3 * p + 2] = z;
    }
  }

  /** Bind places with morphs at other weights, when they differ. */
  #takeMorphs(weights: readonly ArrayLike<number>[]): void {
    const morphs = nameWeights(weights);
    if (morphs === this.#morphs) return;
    this.#morphs = morphs;
    const { model } = this;
    this.#blend = blendSkin(model, this.#character, joinPositions(model.sections, weights));
    this.#clusterMatrices = listClusterMatrices(model, this.#blend);
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

function nameWeights(weights: readonly ArrayLike<number>[]): string {
  return weights.map((list) => Array.from(list).join()).join(';');
}
