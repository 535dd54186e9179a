/** Side of a cell, m, at least. */
export const CELL = 0.025;
/** Cells for each point at most; larger cells where points lie farther apart. And so many in any case. */
const MOST_PER_POINT = 8;
const FEW = 4096;

/**
 * Points in the cells of a grid around them. Those of a row of cells along z stand one after the other. Ours.
 */
export class PointGrid {
  /** Side of a cell, m, and one over it. */
  cell = CELL;
  perCell = 1 / CELL;
  /** Low corner, m, and how many cells there are along each axis; none without points. */
  readonly low = new Float64Array(3);
  readonly size = new Int32Array(3);
  /** Points of cell (x · sizeY + y) · sizeZ + z: `start[c]` to `start[c + 1]` in the list. */
  start = new Uint32Array(1);
  list = new Uint32Array(0);
  /** How many there are. */
  count = 0;
  /** Their positions in the order of the list, [n, 3]: what is looked at together lies together. */
  rows = new Float32Array(0);
  #cells = new Uint32Array(0);
  readonly #high = new Float64Array(3);

  /**
   * Takes other points.
   * @param positions - [n, 3] metres. @param points - Those that count; the first `count` of the list.
   */
  fill(positions: Float32Array, points: Uint32Array, count: number): void {
    this.count = count;
    if (this.list.length < count) {
      this.list = new Uint32Array(2 * count);
      this.rows = new Float32Array(6 * count);
      this.#cells = new Uint32Array(2 * count);
    }
    const cellCount = this.#measure(positions, points, count);
    if (this.start.length <= cellCount) this.start = new Uint32Array(2 * cellCount + 1);
    const { start, list, rows } = this;
    const cells = this.#cells;
    start.fill(0, 0, cellCount + 1);
    this.#countPoints(positions, points, count);
    let sum = 0;
    for (let c = 0; c <= cellCount; c++) {
      sum += start[c]!;
      start[c] = sum;
    }
    for (let i = count - 1; i >= 0; i--) {
      const cell = cells[i]!;
      const at = start[cell]! - 1;
      start[cell] = at;
      const from = 3 * points[i]!;
      list[at] = points[i]!;
      rows[3 * at] = positions[from]!;
      rows[3 * at + 1] = positions[from + 1]!;
      rows[3 * at + 2] = positions[from + 2]!;
    }
  }

  #countPoints(positions: Float32Array, points: Uint32Array, count: number): void {
    const { start, perCell, low, size } = this;
    const cells = this.#cells;
    const [lowX, lowY, lowZ] = low as unknown as [number, number, number];
    const [, sizeY, sizeZ] = size as unknown as [number, number, number];
    for (let i = 0; i < count; i++) {
      const o = 3 * points[i]!;
      const x = Math.floor((positions[o]! - lowX) * perCell);
      const y = Math.floor((positions[o + 1]! - lowY) * perCell);
      const z = Math.floor((positions[o + 2]! - lowZ) * perCell);
      const cell = (x * sizeY + y) * sizeZ + z;
      cells[i] = cell;
      start[cell] = start[cell]! + 1;
    }
  }

  /** Lays the cells around the points. @returns how many there are. */
  #measure(positions: Float32Array, points: Uint32Array, count: number): number {
    const { low, size } = this;
    if (count === 0) {
      size.fill(0);
      return 0;
    }
    const high = this.#high.fill(Number.NEGATIVE_INFINITY);
    low.fill(Number.POSITIVE_INFINITY);
    for (let i = 0; i < count; i++) {
      const o = 3 * points[i]!;
      const x = positions[o]!;
      const y = positions[o + 1]!;
      const z = positions[o + 2]!;
      if (x < low[0]!) low[0] = x;
      if (y < low[1]!) low[1] = y;
      if (z < low[2]!) low[2] = z;
      if (x > high[0]!) high[0] = x;
      if (y > high[1]!) high[1] = y;
      if (z > high[2]!) high[2] = z;
    }
    const most = Math.max(FEW, MOST_PER_POINT * count);
    for (this.cell = CELL; ; this.cell *= 1.25) {
      this.perCell = 1 / this.cell;
      for (let k = 0; k < 3; k++) size[k] = Math.floor((high[k]! - low[k]!) * this.perCell) + 1;
      const cellCount = size[0]! * size[1]! * size[2]!;
      if (cellCount <= most) return cellCount;
    }
  }
}
