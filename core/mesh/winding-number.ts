import { type MutableVector3, writeTriangleCross } from '../math/index.ts';

/** Triangles of a leaf. */
const LEAF = 8;
/** A node farther than this many of its radii counts as one dipole. */
const FAR = 2.3;
const FOUR_PI = 4 * Math.PI;

/**
 * Generalised winding number: how many times a surface winds around a place. 0 outside and 1 inside of a closed mesh, 2 where two
 * parts overlap, and in between near holes; so it tells inside from outside where a mesh has holes or passes through itself.
 *
 * A. Jacobson, L. Kavan, O. Sorkine-Hornung, *Robust inside-outside segmentation using generalized winding numbers*, SIGGRAPH 2013;
 * by a tree of dipoles: G. Barill et al., *Fast winding numbers for soups and clouds*, SIGGRAPH 2018 (first order; halves by the
 * longest axis). Within 0.03 of the exact sum (tested).
 */
export class WindingNumber {
  readonly #positions: Float32Array;
  readonly #triangles: Uint32Array;
  /** Triangles in the order of the tree. */
  readonly #order: Uint32Array;
  /** First and end in the order, and the second child (0: a leaf), for each node; the first child follows its parent. */
  readonly #nodes: Uint32Array;
  readonly #nodeCount: number;
  /** Centre, radius, and summed area vector: 7 for each node. */
  readonly #dipoles: Float64Array;

  /**
   * @param positions - [n, 3] metres, copied.
   * @param triangles - [t, 3], counter-clockwise seen from outside.
   */
  constructor(positions: Float32Array, triangles: Uint32Array) {
    this.#positions = positions.slice();
    this.#triangles = triangles;
    const count = triangles.length / 3;
    this.#order = Uint32Array.from({ length: count }, (_, t) => t);
    const nodes: number[] = [];
    if (count > 0) splitNode(nodes, this.#order, computeCentres(positions, triangles), 0, count);
    this.#nodes = Uint32Array.from(nodes);
    this.#nodeCount = nodes.length / 3;
    this.#dipoles = new Float64Array(7 * this.#nodeCount);
    this.#updateDipoles();
  }

  /** Follows new positions, [n, 3]. O(t log t). */
  refit(positions: Float32Array): void {
    this.#positions.set(positions);
    this.#updateDipoles();
  }

  /** The winding number of a place. O(log t). */
  measure(x: number, y: number, z: number): number {
    const nodes = this.#nodes;
    const dipoles = this.#dipoles;
    const stack = [0];
    let sum = 0;
    if (this.#nodeCount === 0) return 0;
    while (stack.length > 0) {
      const node = stack.pop()!;
      const o = 7 * node;
      const dx = dipoles[o]! - x;
      const dy = dipoles[o + 1]! - y;
      const dz = dipoles[o + 2]! - z;
      const squared = dx * dx + dy * dy + dz * dz;
      const near = FAR * dipoles[o + 3]!;
      if (squared > near * near) {
        const along = dipoles[o + 4]! * dx + dipoles[o + 5]! * dy + dipoles[o + 6]! * dz;
        sum += along / (squared * Math.sqrt(squared));
        continue;
      }
      const second = nodes[3 * node + 2]!;
      if (second > 0) {
        stack.push(node + 1, second);
        continue;
      }
      for (let k = nodes[3 * node]!; k < nodes[3 * node + 1]!; k++)
        sum += computeSolidAngle(this.#positions, this.#triangles, 3 * this.#order[k]!, x, y, z);
    }
    return sum / FOUR_PI;
  }

  #updateDipoles(): void {
    for (let node = 0; node < this.#nodeCount; node++) this.#updateDipole(node);
  }

  #updateDipole(node: number): void {
    const p = this.#positions;
    const triangles = this.#triangles;
    const [first, end] = [this.#nodes[3 * node]!, this.#nodes[3 * node + 1]!];
    const cross: MutableVector3 = [0, 0, 0];
    const normal: MutableVector3 = [0, 0, 0];
    const centre: MutableVector3 = [0, 0, 0];
    let total = 0;
    for (let k = first; k < end; k++) {
      const t = 3 * this.#order[k]!;
      const a = 3 * triangles[t]!;
      const b = 3 * triangles[t + 1]!;
      const d = 3 * triangles[t + 2]!;
      writeTriangleCross(p, a, b, d, cross);
      const area = Math.sqrt(cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2]);
      total += area;
      for (let c = 0; c < 3; c++) {
        normal[c] = normal[c]! + 0.5 * cross[c]!;
        centre[c] = centre[c]! + (area * (p[a + c]! + p[b + c]! + p[d + c]!)) / 3;
      }
    }
    if (total > 0) for (let c = 0; c < 3; c++) centre[c] = centre[c]! / total;
    let radius = 0;
    for (let k = first; k < end; k++) {
      for (let c = 0; c < 3; c++) {
        const corner = 3 * triangles[3 * this.#order[k]! + c]!;
        const dx = p[corner]! - centre[0]!;
        const dy = p[corner + 1]! - centre[1]!;
        const dz = p[corner + 2]! - centre[2]!;
        radius = Math.max(radius, dx * dx + dy * dy + dz * dz);
      }
    }
    this.#dipoles.set([...centre, Math.sqrt(radius), ...normal], 7 * node);
  }
}

/** Adds a node for a piece of the order, and those below it. */
function splitNode(
  nodes: number[],
  order: Uint32Array,
  centres: Float32Array,
  first: number,
  end: number,
): void {
  const node = nodes.length / 3;
  nodes.push(first, end, 0);
  if (end - first <= LEAF) return;
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let k = first; k < end; k++) {
    for (let c = 0; c < 3; c++) {
      low[c] = Math.min(low[c]!, centres[3 * order[k]! + c]!);
      high[c] = Math.max(high[c]!, centres[3 * order[k]! + c]!);
    }
  }
  const sizes = low.map((value, c) => high[c]! - value);
  const axis = sizes.indexOf(Math.max(...sizes));
  order.subarray(first, end).sort((s, t) => centres[3 * s + axis]! - centres[3 * t + axis]! || s - t);
  const middle = (first + end) >> 1;
  splitNode(nodes, order, centres, first, middle);
  nodes[3 * node + 2] = nodes.length / 3;
  splitNode(nodes, order, centres, middle, end);
}

function computeCentres(p: Float32Array, triangles: Uint32Array): Float32Array {
  const centres = new Float32Array(triangles.length);
  for (let t = 0; t < triangles.length; t += 3) {
    for (let c = 0; c < 3; c++) {
      centres[t + c] =
        (p[3 * triangles[t]! + c]! + p[3 * triangles[t + 1]! + c]! + p[3 * triangles[t + 2]! + c]!) / 3;
    }
  }
  return centres;
}

/**
 * Solid angle of a triangle, positive from behind, sr.
 * A. Van Oosterom, J. Strackee, *The solid angle of a plane triangle*, IEEE Trans. Biomed. Eng. 30, 1983.
 */
function computeSolidAngle(
  p: Float32Array,
  triangles: Uint32Array,
  t: number,
  x: number,
  y: number,
  z: number,
): number {
  const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
  const [ax, ay, az] = [p[a]! - x, p[a + 1]! - y, p[a + 2]! - z];
  const [bx, by, bz] = [p[b]! - x, p[b + 1]! - y, p[b + 2]! - z];
  const [cx, cy, cz] = [p[c]! - x, p[c + 1]! - y, p[c + 2]! - z];
  const la = Math.sqrt(ax * ax + ay * ay + az * az);
  const lb = Math.sqrt(bx * bx + by * by + bz * bz);
  const lc = Math.sqrt(cx * cx + cy * cy + cz * cz);
  const volume = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  const rest =
    la * lb * lc +
    (ax * bx + ay * by + az * bz) * lc +
    (bx * cx + by * cy + bz * cz) * la +
    (cx * ax + cy * ay + cz * az) * lb;
  return 2 * Math.atan2(volume, rest);
}
