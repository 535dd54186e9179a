import { createRandom } from '../../core/math/index.ts';

/** How the scene is seen. */
export interface ScreenView {
  /** World to clip space, column-major, [16]. */
  matrix: ArrayLike<number>;
  /** Where the eye is, m. */
  eye: readonly [number, number, number];
  /** Of the canvas, CSS pixels. */
  width: number;
  height: number;
}

/** A new mark wants so much more room than one that is there already keeps: marks do not come and go at each frame. */
const ROOM_FOR_NEW = 1.25;
const SEED = 11;

/**
 * Chooses which of many marks on a surface are drawn, so that none come nearer to each other on the screen than a
 * given spacing, and no room for another is left. Marks on what faces away, or is out of the picture, are left out.
 *
 * Greedy, in a shuffled order that stays the same, what was chosen last time first. O(n), a grid of screen cells finds
 * the neighbours.
 */
export class ScreenSpacing {
  readonly #spacing: number;
  #order: Uint32Array = new Uint32Array(0);
  /** Chosen last time, in the order of choosing. */
  #chosen: Uint32Array = new Uint32Array(0);
  #isChosen = new Uint8Array(0);
  #x = new Float32Array(0);
  #y = new Float32Array(0);
  /** First mark of each cell, and the next one of each mark; -1 ends. */
  #heads = new Int32Array(0);
  #next = new Int32Array(0);

  /** @param spacing - CSS pixels. */
  constructor(spacing: number) {
    this.#spacing = spacing;
  }

  /** The points that may carry a mark. @param pointCount - Of the mesh they belong to. */
  setCandidates(points: readonly number[] | Uint32Array, pointCount: number): void {
    const random = createRandom(SEED);
    this.#order = Uint32Array.from(points);
    for (let i = this.#order.length - 1; i > 0; i--) {
      const k = Math.floor(random() * (i + 1));
      [this.#order[i], this.#order[k]] = [this.#order[k]!, this.#order[i]!];
    }
    const isCandidate = new Uint8Array(pointCount);
    for (const point of points) isCandidate[point] = 1;
    this.#chosen = this.#chosen.filter((point) => isCandidate[point] === 1);
    if (this.#isChosen.length === pointCount) return;
    this.#chosen = new Uint32Array(0);
    this.#isChosen = new Uint8Array(pointCount);
    this.#next = new Int32Array(pointCount);
    this.#x = new Float32Array(pointCount);
    this.#y = new Float32Array(pointCount);
  }

  /**
   * @param positions, normals - Of all points of the mesh, [p, stride] and [p, 3], m.
   * @returns The points to mark.
   */
  choose(positions: Float32Array, normals: Float32Array, view: ScreenView, stride = 3): Uint32Array {
    const room = ROOM_FOR_NEW * this.#spacing;
    const columns = Math.ceil(view.width / room) + 1;
    const rows = Math.ceil(view.height / room) + 1;
    if (this.#heads.length !== columns * rows) this.#heads = new Int32Array(columns * rows);
    this.#heads.fill(-1);
    this.#isChosen.fill(0);
    const chosen: number[] = [];
    const take = (point: number, spacing: number): void => {
      if (this.#isChosen[point] === 1 || !this.#project(point, positions, normals, view, stride)) return;
      const [x, y] = [this.#x[point]!, this.#y[point]!];
      const [column, row] = [Math.floor(x / room), Math.floor(y / room)];
      for (let r = Math.max(0, row - 1); r <= Math.min(rows - 1, row + 1); r++)
        for (let c = Math.max(0, column - 1); c <= Math.min(columns - 1, column + 1); c++)
          for (let other = this.#heads[r * columns + c]!; other >= 0; other = this.#next[other]!)
            if ((this.#x[other]! - x) ** 2 + (this.#y[other]! - y) ** 2 < spacing * spacing) return;
      this.#isChosen[point] = 1;
      chosen.push(point);
      this.#next[point] = this.#heads[row * columns + column]!;
      this.#heads[row * columns + column] = point;
    };
    for (const point of this.#chosen) take(point, this.#spacing);
    for (const point of this.#order) take(point, room);
    this.#chosen = Uint32Array.from(chosen);
    return this.#chosen;
  }

  /** @returns Whether the point faces the eye within the picture; its place on the screen is known then. */
  #project(
    point: number,
    positions: Float32Array,
    normals: Float32Array,
    { matrix: m, eye, width, height }: ScreenView,
    stride: number,
  ): boolean {
    const [at, n] = [stride * point, 3 * point];
    const [x, y, z] = [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    const facing =
      (eye[0] - x) * normals[n]! + (eye[1] - y) * normals[n + 1]! + (eye[2] - z) * normals[n + 2]!;
    if (!(facing > 0)) return false;
    const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
    if (w <= 0) return false;
    const across = (m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w;
    const up = (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w;
    if (Math.abs(across) > 1 || Math.abs(up) > 1) return false;
    this.#x[point] = (0.5 + 0.5 * across) * width;
    this.#y[point] = (0.5 - 0.5 * up) * height;
    return true;
  }
}
