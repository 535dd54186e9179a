import { HASH_CELLS, type SolverState } from '../solver-state.ts';

/** Cell of a place; the same bits on every machine. */
export function hashCell(x: number, y: number, z: number): number {
  return (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & (HASH_CELLS - 1);
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
