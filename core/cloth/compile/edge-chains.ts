import { cosine } from '../../math/index.ts';

/** Edges one after the other, each beginning where the one before ends; no vertex comes twice. */
export interface EdgeChain {
  /** [m] */
  edges: number[];
  /** The vertices along it, [m + 1]. */
  points: number[];
}

/** Two edges of a chain turn by no more than this, rad. */
const MOST_TURN = (50 * Math.PI) / 180;
/** Of so many edges around a vertex ways on are looked for; the hub of a fan has more. */
const MOST_AROUND = 64;
/** Cosines of turns that differ by less are alike. */
const STEP = 1e-3;

/**
 * Lays all edges of a mesh into chains as straight and as long as they come: where edges meet, those that turn least go on
 * into one another first, over the whole mesh, so that the chains do not hang on where one begins. A grid gives its lines;
 * an even irregular mesh of n vertices about n/4 chains, each nearly as long as the piece.
 *
 * Ours.
 *
 * @param edges - [e, 2]. @param positions - [n, 4], m.
 * @returns every edge is in one of them. Longest first.
 */
export function findEdgeChains(edges: Uint32Array, positions: Float32Array, pointCount: number): EdgeChain[] {
  const count = edges.length / 2;
  /** Edge that goes on at each end of an edge, [e, 2]; -1: none. */
  const next = new Int32Array(2 * count).fill(-1);
  const chainOf = Int32Array.from({ length: count }, (_, e) => e);
  const members = Array.from({ length: count }, (_, e) => [e]);
  const vertices = Array.from({ length: count }, (_, e) => new Set([edges[2 * e]!, edges[2 * e + 1]!]));
  const endOf = (edge: number, point: number): number => 2 * edge + (edges[2 * edge] === point ? 0 : 1);
  for (const { point, p, q } of listTurns(edges, positions, pointCount)) {
    const [endP, endQ] = [endOf(p, point), endOf(q, point)];
    if (next[endP]! >= 0 || next[endQ]! >= 0) continue;
    const [a, b] = [chainOf[p]!, chainOf[q]!];
    if (a === b) continue;
    const [small, large] = members[a]!.length < members[b]!.length ? [a, b] : [b, a];
    if (shareMore(vertices[small]!, vertices[large]!, point)) continue;
    next[endP] = q;
    next[endQ] = p;
    for (const vertex of vertices[small]!) vertices[large]!.add(vertex);
    for (const edge of members[small]!) chainOf[edge] = large;
    members[large]!.push(...members[small]!);
    members[small] = [];
  }
  return members
    .filter((list) => list.length > 0)
    .map((list) => walk(list, edges, next, endOf))
    .sort((c, d) => d.edges.length - c.edges.length || c.edges[0]! - d.edges[0]!);
}

/** Two edges that meet in a vertex, nearly in line. */
interface Turn {
  point: number;
  p: number;
  q: number;
  /** Cosine of the angle by which the way turns, in steps of STEP: last digits do not decide which of two alike goes first. */
  straightness: number;
}

/** All places where a chain may go on, the straightest first. */
function listTurns(edges: Uint32Array, positions: Float32Array, pointCount: number): Turn[] {
  const around: number[][] = Array.from({ length: pointCount }, () => []);
  for (let i = 0; i < edges.length; i++) around[edges[i]!]!.push(i >> 1);
  const least = cosine(MOST_TURN);
  const turns: Turn[] = [];
  const direction = new Float64Array(3 * MOST_AROUND);
  for (let point = 0; point < pointCount; point++) {
    const list = around[point]!.slice(0, MOST_AROUND);
    list.forEach((edge, i) => {
      const other = edges[2 * edge] === point ? edges[2 * edge + 1]! : edges[2 * edge]!;
      writeDirection(positions, point, other, direction, 3 * i);
    });
    for (let i = 0; i < list.length; i++) {
      for (let j = i + 1; j < list.length; j++) {
        let along = 0;
        for (let k = 0; k < 3; k++) along -= direction[3 * i + k]! * direction[3 * j + k]!;
        if (along > least)
          turns.push({ point, p: list[i]!, q: list[j]!, straightness: Math.round(along / STEP) });
      }
    }
  }
  return turns.sort((s, t) => t.straightness - s.straightness || s.point - t.point || s.p - t.p || s.q - t.q);
}

function writeDirection(
  positions: Float32Array,
  from: number,
  to: number,
  out: Float64Array,
  at: number,
): void {
  let squares = 0;
  for (let k = 0; k < 3; k++) {
    out[at + k] = positions[4 * to + k]! - positions[4 * from + k]!;
    squares += out[at + k]! ** 2;
  }
  const scale = squares > 0 ? 1 / Math.sqrt(squares) : 0;
  for (let k = 0; k < 3; k++) out[at + k] = out[at + k]! * scale;
}

/** Whether two chains that meet in `point` share another vertex. */
function shareMore(small: ReadonlySet<number>, large: ReadonlySet<number>, point: number): boolean {
  for (const vertex of small) if (vertex !== point && large.has(vertex)) return true;
  return false;
}

function walk(
  members: readonly number[],
  edges: Uint32Array,
  next: Int32Array,
  endOf: (edge: number, point: number) => number,
): EdgeChain {
  let edge = members.find((e) => next[2 * e]! < 0 || next[2 * e + 1]! < 0)!;
  let point = next[2 * edge]! < 0 ? edges[2 * edge]! : edges[2 * edge + 1]!;
  const chain: EdgeChain = { edges: [], points: [point] };
  while (edge >= 0) {
    chain.edges.push(edge);
    point = edges[2 * edge] === point ? edges[2 * edge + 1]! : edges[2 * edge]!;
    chain.points.push(point);
    edge = next[endOf(edge, point)]!;
  }
  return chain;
}

/**
 * How crooked the chains are: the mean, over their edges, of the squared sine of the turns at both ends, half of each.
 * 0 on a grid, about 0.02 on an even irregular mesh.
 */
export function measureKink(chains: readonly EdgeChain[], positions: Float32Array): number {
  const [before, after] = [new Float64Array(3), new Float64Array(3)];
  let sum = 0;
  let count = 0;
  for (const { points } of chains) {
    count += points.length - 1;
    for (let i = 1; i + 1 < points.length; i++) {
      writeDirection(positions, points[i - 1]!, points[i]!, before, 0);
      writeDirection(positions, points[i]!, points[i + 1]!, after, 0);
      const along = before[0]! * after[0]! + before[1]! * after[1]! + before[2]! * after[2]!;
      sum += Math.max(0, 1 - along * along);
    }
  }
  return count > 0 ? sum / count : 0;
}
