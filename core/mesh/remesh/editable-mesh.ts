import { type MutableVector3, writeTriangleCross } from '../../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';

/** No feature line runs along an edge or through a point. */
export const NO_CHAIN = -1;

/**
 * A triangle mesh whose edges can be split, collapsed and flipped. Every point knows the triangles around it; removed
 * points and triangles stay as gaps until `compact`.
 *
 * Edges along feature lines (open borders, sharp lines) carry the number of the chain that they belong to, see
 * `feature-polylines.ts`; points on them carry the chain and the way along it, unless they are fixed.
 */
export class EditableMesh {
  /** xyz of each point, metres. */
  readonly positions: number[];
  /** Corners of each triangle; -1 in all three when removed. */
  readonly corners: number[];
  /** Triangles around each point; empty when removed. */
  readonly around: number[][];
  /** Chain of a point, NO_CHAIN inside. */
  readonly polylines: number[];
  /** Metres along the chain. */
  readonly along: number[];
  /** Points that never move or vanish: ends and corners of chains. */
  readonly isFixed: boolean[];
  /** Points on an edge that does not have two triangles. */
  readonly isBorder: boolean[];
  readonly #polylineOfEdge = new Map<number, number>();

  constructor({ positions, triangles }: Surface) {
    this.positions = Array.from(positions);
    this.corners = Array.from(triangles);
    const pointCount = positions.length / 3;
    this.around = Array.from({ length: pointCount }, () => []);
    this.polylines = new Array<number>(pointCount).fill(NO_CHAIN);
    this.along = new Array<number>(pointCount).fill(0);
    this.isFixed = new Array<boolean>(pointCount).fill(false);
    this.isBorder = new Array<boolean>(pointCount).fill(false);
    for (let i = 0; i < triangles.length; i++) this.around[triangles[i]!]!.push(Math.floor(i / 3));
    const table = buildEdgeTable(triangles, pointCount);
    const setBorder = (e: number): void => {
      for (const point of [table.edges[2 * e]!, table.edges[2 * e + 1]!]) this.isBorder[point] = true;
    };
    for (let e = 0; e < table.edgeCount; e++) if (table.triangles[2 * e + 1] === NO_TRIANGLE) setBorder(e);
    table.nonManifold.forEach(setBorder);
  }

  get pointCount(): number {
    return this.around.length;
  }

  isAlive(point: number): boolean {
    return this.around[point]!.length > 0;
  }

  setEdgePolyline(a: number, b: number, polyline: number): void {
    if (polyline === NO_CHAIN) this.#polylineOfEdge.delete(edgeKey(a, b));
    else this.#polylineOfEdge.set(edgeKey(a, b), polyline);
  }

  getEdgePolyline(a: number, b: number): number {
    return this.#polylineOfEdge.get(edgeKey(a, b)) ?? NO_CHAIN;
  }

  getLength(a: number, b: number): number {
    const p = this.positions;
    return Math.sqrt(
      (p[3 * a]! - p[3 * b]!) ** 2 +
        (p[3 * a + 1]! - p[3 * b + 1]!) ** 2 +
        (p[3 * a + 2]! - p[3 * b + 2]!) ** 2,
    );
  }

  /** The triangles that have both points: two inside, one on a border. */
  listTriangles(a: number, b: number): number[] {
    const found: number[] = [];
    for (const t of this.around[a]!) if (this.#cornerOf(t, b) >= 0) found.push(t);
    return found;
  }

  /** Points joined to one by an edge. */
  listNeighbours(point: number): number[] {
    const found: number[] = [];
    for (const t of this.around[point]!) {
      for (let i = 3 * t; i < 3 * t + 3; i++) {
        const corner = this.corners[i]!;
        if (corner !== point && !found.includes(corner)) found.push(corner);
      }
    }
    return found;
  }

  /** The corner of a triangle that is neither of two points. */
  across(triangle: number, a: number, b: number): number {
    const i = 3 * triangle;
    return this.corners[i]! + this.corners[i + 1]! + this.corners[i + 2]! - a - b;
  }

  /** Every edge once as two points, the lower first, in the order of the triangles; where faces are turned, some twice. */
  listEdges(): number[] {
    const edges: number[] = [];
    const { corners } = this;
    for (let t = 0; t < corners.length; t += 3) {
      if (corners[t]! < 0) continue;
      for (let k = 0; k < 3; k++) {
        const from = corners[t + k]!;
        const to = corners[t + (k === 2 ? 0 : k + 1)]!;
        // The neighbour across has it the other way round.
        if (from < to) edges.push(from, to);
        else if (this.isBorder[from] && this.isBorder[to] && this.listTriangles(from, to).length === 1) {
          edges.push(to, from);
        }
      }
    }
    return edges;
  }

  /** A new point on an edge at a place. @returns The point. */
  split(a: number, b: number, position: readonly [number, number, number]): number {
    const middle = this.around.length;
    this.positions.push(...position);
    this.around.push([]);
    this.polylines.push(NO_CHAIN);
    this.along.push(0);
    this.isFixed.push(false);
    for (const t of this.listTriangles(a, b)) {
      // The triangle keeps a and takes the new point for b; a new one has b and the new point for a.
      const other = this.corners.length / 3;
      for (let k = 0; k < 3; k++) {
        const corner = this.corners[3 * t + k]!;
        this.corners.push(corner === a ? middle : corner);
        this.around[corner === a ? middle : corner]!.push(other);
      }
      this.#replaceCorner(t, b, middle);
      this.around[middle]!.push(t);
      remove(this.around[b]!, t);
    }
    this.isBorder.push(this.isBorder[a]! && this.isBorder[b]! && this.around[middle]!.length !== 4);
    const polyline = this.getEdgePolyline(a, b);
    if (polyline !== NO_CHAIN) {
      this.setEdgePolyline(a, b, NO_CHAIN);
      this.setEdgePolyline(a, middle, polyline);
      this.setEdgePolyline(middle, b, polyline);
      this.polylines[middle] = polyline;
    }
    return middle;
  }

  /** Whether an edge can go without the surface touching itself (the link condition). */
  canCollapse(a: number, b: number): boolean {
    const shared = this.listTriangles(a, b);
    if (shared.length === 0) return false;
    const opposite = shared.map((t) => this.across(t, a, b));
    const ofA = this.listNeighbours(a);
    const common = this.listNeighbours(b).filter((point) => ofA.includes(point));
    if (common.length !== opposite.length) return false;
    // Two sides of a thin strip must not be joined across it.
    if (this.isBorder[a] && this.isBorder[b] && shared.length === 2) return false;
    // A closed piece of four triangles, or a strip of one, is as small as it gets.
    return opposite.every((point) => this.around[point]!.length > (this.isBorder[point] ? 1 : 3));
  }

  /** Takes `b` away, into `a`. */
  collapse(a: number, b: number): void {
    for (const t of this.listTriangles(a, b)) this.#removeTriangle(t);
    for (const point of this.listNeighbours(b)) {
      const polyline = this.getEdgePolyline(b, point);
      if (polyline === NO_CHAIN) continue;
      this.setEdgePolyline(b, point, NO_CHAIN);
      if (point !== a) this.setEdgePolyline(a, point, polyline);
    }
    this.setEdgePolyline(a, b, NO_CHAIN);
    this.isBorder[a] ||= this.isBorder[b]!;
    for (const t of this.around[b]!) {
      this.#replaceCorner(t, b, a);
      this.around[a]!.push(t);
    }
    this.around[b] = [];
  }

  /**
   * ```
   *      c            c        Joins c and d instead of a and b. Does nothing when they are joined already.
   *     / \          /|\
   *    a───b   →    a | b
   *     \ /          \|/
   *      d            d
   * ```
   */
  flip(a: number, b: number): boolean {
    const [first, second] = this.listTriangles(a, b);
    if (first === undefined || second === undefined) return false;
    const c = this.across(first, a, b);
    const d = this.across(second, a, b);
    if (c === d || this.listTriangles(c, d).length > 0) return false;
    this.#replaceCorner(first, b, d);
    this.#replaceCorner(second, a, c);
    remove(this.around[b]!, first);
    remove(this.around[a]!, second);
    this.around[d]!.push(first);
    this.around[c]!.push(second);
    return true;
  }

  /** Not unit: twice the area as length. */
  writeNormal(triangle: number, out: MutableVector3): MutableVector3 {
    const { corners, positions } = this;
    const t = 3 * triangle;
    return writeTriangleCross(positions, 3 * corners[t]!, 3 * corners[t + 1]!, 3 * corners[t + 2]!, out);
  }

  /** Whether a triangle has a corner of less than about 7°, or no area. */
  isSliver(triangle: number): boolean {
    const [a, b, c] = [
      this.corners[3 * triangle]!,
      this.corners[3 * triangle + 1]!,
      this.corners[3 * triangle + 2]!,
    ];
    const longest = Math.max(this.getLength(a, b), this.getLength(b, c), this.getLength(c, a));
    const n = this.writeNormal(triangle, scratchNormal);
    return n[0] * n[0] + n[1] * n[1] + n[2] * n[2] <= (SLIVER_HEIGHT * longest * longest) ** 2;
  }

  /**
   * Which way the surface faces around some points: the sum of the normals of their triangles, of slivers only where there is
   * nothing else. Not unit. Triangles that have the point `except` do not count.
   */
  computeFacing(points: readonly number[], except = -1): MutableVector3 {
    const sum: MutableVector3 = [0, 0, 0];
    const ofSlivers: MutableVector3 = [0, 0, 0];
    for (const point of points) {
      for (const t of this.around[point]!) {
        if (except >= 0 && this.#cornerOf(t, except) >= 0) continue;
        const to = this.isSliver(t) ? ofSlivers : sum;
        const n = this.writeNormal(t, scratchNormal);
        for (let k = 0; k < 3; k++) to[k] = to[k]! + n[k]!;
      }
    }
    return sum[0] !== 0 || sum[1] !== 0 || sum[2] !== 0 ? sum : ofSlivers;
  }

  /**
   * Whether the triangles of a point still face the same way (within 70°), none turned into a sliver, when the point
   * moves to a place. Triangles that have the point `except` too do not count.
   */
  keepsShape(point: number, except: number, position: readonly [number, number, number]): boolean {
    const { corners, positions: p } = this;
    const [x, y, z] = position;
    const o = 3 * point;
    let around: MutableVector3 | null = null;
    for (const t of this.around[point]!) {
      let b = corners[3 * t]!;
      let c = corners[3 * t + 1]!;
      if (b === point) [b, c] = [c, corners[3 * t + 2]!];
      else if (c === point) [b, c] = [corners[3 * t + 2]!, b];
      if (b === except || c === except) continue;
      b *= 3;
      c *= 3;
      const ex = p[c]! - p[b]!;
      const ey = p[c + 1]! - p[b + 1]!;
      const ez = p[c + 2]! - p[b + 2]!;
      const ux = p[o]! - p[b]!;
      const uy = p[o + 1]! - p[b + 1]!;
      const uz = p[o + 2]! - p[b + 2]!;
      const vx = x - p[b]!;
      const vy = y - p[b + 1]!;
      const vz = z - p[b + 2]!;
      const nx = ey * uz - ez * uy;
      const ny = ez * ux - ex * uz;
      const nz = ex * uy - ey * ux;
      const mx = ey * vz - ez * vy;
      const my = ez * vx - ex * vz;
      const mz = ex * vy - ey * vx;
      const nn = nx * nx + ny * ny + nz * nz;
      const mm = mx * mx + my * my + mz * mz;
      const ee = ex * ex + ey * ey + ez * ez;
      const uu = ux * ux + uy * uy + uz * uz;
      const wasSliver = nn <= (SLIVER_HEIGHT * Math.max(ee, uu)) ** 2;
      if (wasSliver) {
        around ??= this.computeFacing([point], except);
        const [ax, ay, az] = around;
        if (!(ax * mx + ay * my + az * mz > 0.3 * Math.sqrt((ax * ax + ay * ay + az * az) * mm)))
          return false;
        continue;
      }
      const wx = x - p[c]!;
      const wy = y - p[c + 1]!;
      const wz = z - p[c + 2]!;
      const longest = Math.max(ee, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz);
      if (mm <= (SLIVER_HEIGHT * longest) ** 2) return false;
      if (!(nx * mx + ny * my + nz * mz > 0.3 * Math.sqrt(nn * mm))) return false;
    }
    return true;
  }

  /** Without gaps. @returns The surface, and for each of its points the number here. */
  compact(): { surface: Surface; sources: Uint32Array } {
    const numberOf = new Map<number, number>();
    const sources: number[] = [];
    const triangles: number[] = [];
    for (let i = 0; i < this.corners.length; i++) {
      const corner = this.corners[i]!;
      if (corner < 0) continue;
      let number = numberOf.get(corner);
      if (number === undefined) {
        number = sources.length;
        numberOf.set(corner, number);
        sources.push(corner);
      }
      triangles.push(number);
    }
    const positions = new Float32Array(3 * sources.length);
    sources.forEach((from, to) => {
      for (let k = 0; k < 3; k++) positions[3 * to + k] = this.positions[3 * from + k]!;
    });
    return {
      surface: { positions, triangles: Uint32Array.from(triangles) },
      sources: Uint32Array.from(sources),
    };
  }

  #cornerOf(triangle: number, point: number): number {
    for (let k = 0; k < 3; k++) if (this.corners[3 * triangle + k] === point) return k;
    return -1;
  }

  #replaceCorner(triangle: number, from: number, to: number): void {
    this.corners[3 * triangle + this.#cornerOf(triangle, from)] = to;
  }

  #removeTriangle(triangle: number): void {
    for (let k = 0; k < 3; k++) {
      remove(this.around[this.corners[3 * triangle + k]!]!, triangle);
      this.corners[3 * triangle + k] = -1;
    }
  }
}

/** Height of a sliver over its longest edge. */
const SLIVER_HEIGHT = 0.12;
const scratchNormal: [number, number, number] = [0, 0, 0];

/** Exact for up to 2^26 points. */
function edgeKey(a: number, b: number): number {
  return a < b ? a * 0x4000000 + b : b * 0x4000000 + a;
}

function remove(list: number[], value: number): void {
  const at = list.indexOf(value);
  if (at < 0) return;
  list[at] = list[list.length - 1]!;
  list.pop();
}
