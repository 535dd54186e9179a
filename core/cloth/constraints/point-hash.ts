import { HASH_CELLS, type SolverState } from '../solver-state.ts';

/** Cell of a place; the same bits on every machine. */
export function hashCell(x: number, y: number, z: number): number {
  return (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & (HASH_CELLS - 1);
}

/** The cells around that of a row, each once: different places may share one. */
export function listCellsAround(rows: Float32Array, i: number, cellSize: number): Set<number> {
  const scale = 1 / cellSize;
  const [cx, cy, cz] = [0, 1, 2].map((k) => Math.floor(rows[4 * i + k]! * scale)) as [number, number, number];
  const cells = new Set<number>();
  for (let n = 0; n < 27; n++)
    cells.add(hashCell(cx + (n % 3) - 1, cy + (Math.floor(n / 3) % 3) - 1, cz + Math.floor(n / 9) - 1));
  return cells;
}

/** Of two rows, [n, 4] each. */
export function squaredDistance(rows: Float32Array, i: number, others: Float32Array, j: number): number {
  const dx = others[4 * j]! - rows[4 * i]!;
  const dy = others[4 * j + 1]! - rows[4 * i + 1]!;
  const dz = others[4 * j + 2]! - rows[4 * i + 2]!;
  return dx * dx + dy * dy + dz * dz;
}

/**
 * Sorts points into the cells of a hashed grid: those of cell c stand at `hashList[hashStart[c]] …`, lowest first.
 * Different places may share a cell; callers compare distances anyway.
 *
 * @param positions - [n, 4].
 *
 * Reference: M. Teschner et al., *Optimized spatial hashing for collision detection of deformable objects*, VMV 2003.
 */
export function buildPointHash(
  state: SolverState,
  positions: Float32Array,
  count: number,
  cellSize: number,
): void {
  const { hashStart, hashList, hashCells } = state;
  const scale = 1 / cellSize;
  hashStart.fill(0);
  for (let i = 0; i < count; i++) {
    const cell = hashCell(
      Math.floor(positions[4 * i]! * scale),
      Math.floor(positions[4 * i + 1]! * scale),
      Math.floor(positions[4 * i + 2]! * scale),
    );
    hashCells[i] = cell;
    hashStart[cell] = hashStart[cell]! + 1;
  }
  let sum = 0;
  for (let c = 0; c < HASH_CELLS; c++) {
    sum += hashStart[c]!;
    hashStart[c] = sum;
  }
  hashStart[HASH_CELLS] = sum;
  for (let i = count - 1; i >= 0; i--) {
    const cell = hashCells[i]!;
    hashStart[cell] = hashStart[cell]! - 1;
    hashList[hashStart[cell]!] = i;
  }
}
