import type { EdgeChain } from './edge-chains.ts';

/** Chains solved side by side, one in each lane of a vector. */
export const LANES = 4;
/** Most rows of a batch: what a solver writes down of them on the way should stay in the nearest cache. */
export const MOST_CHAIN_ROWS = 96;
/** No edge: the step from one chain to the next, or padding at the end of a lane. */
export const NO_EDGE = -1;

export interface ChainRows {
  /**
   * Edge of each slot, or NO_EDGE; rows of four slots. In each lane of a batch slot follows slot: one begins at the vertex where
   * the one above ends. [s]
   */
  edges: Int32Array;
  /** Where a slot begins and ends. Padding runs between the spare vertices of its lane. [s, 2] */
  pairs: Uint32Array;
  /** First row of each batch, and the end. [batches + 1] */
  batchStart: Uint32Array;
}

/**
 * Lays chains into batches of four lanes. The chains of a batch share no vertex, so that the order in which they are solved
 * makes no difference; a lane holds several, one after the other, with an empty slot between.
 *
 * @param chains - Longest first. @param spare - First of 8 vertices that belong to no chain.
 */
export function packChains(chains: readonly EdgeChain[], pointCount: number, spare: number): ChainRows {
  let left = chains.flatMap(cutToRows);
  const batchOf = new Int32Array(pointCount).fill(-1);
  const edges: number[] = [];
  const pairs: number[] = [];
  const batchStart = [0];
  for (let batch = 0; left.length > 0; batch++) {
    const lanes: EdgeChain[][] = Array.from({ length: LANES }, () => []);
    const lengths = new Array<number>(LANES).fill(0);
    const rest: EdgeChain[] = [];
    for (const chain of left) {
      const lane = lengths.indexOf(Math.min(...lengths));
      const length = lengths[lane]! + (lengths[lane]! > 0 ? 1 : 0) + chain.edges.length;
      if (length > MOST_CHAIN_ROWS || chain.points.some((point) => batchOf[point] === batch)) {
        rest.push(chain);
        continue;
      }
      for (const point of chain.points) batchOf[point] = batch;
      lanes[lane]!.push(chain);
      lengths[lane] = length;
    }
    left = rest;
    const rows = Math.max(...lengths);
    const start = edges.length;
    edges.length += LANES * rows;
    pairs.length += 2 * LANES * rows;
    lanes.forEach((list, lane) => {
      writeLane(list, rows, lane, start, spare, edges, pairs);
    });
    batchStart.push(edges.length / LANES);
  }
  return {
    edges: Int32Array.from(edges),
    pairs: Uint32Array.from(pairs),
    batchStart: Uint32Array.from(batchStart),
  };
}

/** A chain longer than a batch in pieces. */
function cutToRows({ edges, points }: EdgeChain): EdgeChain[] {
  const pieces: EdgeChain[] = [];
  for (let i = 0; i < edges.length; i += MOST_CHAIN_ROWS) {
    pieces.push({
      edges: edges.slice(i, i + MOST_CHAIN_ROWS),
      points: points.slice(i, i + MOST_CHAIN_ROWS + 1),
    });
  }
  return pieces;
}

function writeLane(
  chains: readonly EdgeChain[],
  rows: number,
  lane: number,
  start: number,
  spare: number,
  edges: number[],
  pairs: number[],
): void {
  const [first, second] = [spare + 2 * lane, spare + 2 * lane + 1];
  let row = 0;
  let at = chains[0]?.points[0] ?? first;
  const write = (edge: number, to: number): void => {
    const slot = start + LANES * row++ + lane;
    edges[slot] = edge;
    pairs[2 * slot] = at;
    pairs[2 * slot + 1] = to;
    at = to;
  };
  for (const chain of chains) {
    if (chain.points[0] !== at) write(NO_EDGE, chain.points[0]!);
    chain.edges.forEach((edge, i) => {
      write(edge, chain.points[i + 1]!);
    });
  }
  while (row < rows) write(NO_EDGE, at === first ? second : first);
}
