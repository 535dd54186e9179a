import { type MutableVector3, SpatialIndex, type Vector3, writeTriangleCross } from '../../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { EditableMesh, NO_CHAIN } from './editable-mesh.ts';
import {
  buildFeaturePolylines,
  chooseSpacing,
  type FeaturePolyline,
  getDisplacement,
  placeOnPolyline,
} from './feature-polylines.ts';
import { cutHalf, isMirrorSymmetric, joinHalves } from './mirror-halves.ts';

export interface RemeshOptions {
  /** Wished length of edges, m. */
  edgeLength: number;
  /**
   * How closely open borders and kept lines are followed, 0 to 1. At 1 they stay within 2 % of the edge length, with
   * shorter edges where that takes them; at 0 they have edges as long as the rest. Default 1.
   */
  borderDetail?: number;
  /** Edges between triangles whose normals turn by more than this are kept, rad. Default π: none. */
  sharpAngle?: number;
  /** More edges to keep as lines, pairs of points. */
  lines?: Uint32Array;
  /** Keep the mirror symmetry about x = 0 when the source has it. Default true. */
  keepsSymmetry?: boolean;
  /** Called between passes with the share done, 0 to 1. It may throw, to cancel. */
  onProgress?: (share: number) => void;
}

const PASSES = 8;
/** Edges outside these shares of the wished length are split or collapsed (Botsch & Kobbelt 2004, §4). */
const SPLIT_SHARE = 4 / 3;
const COLLAPSE_SHARE = 4 / 5;
/** Cosine of 12°: no flip for its own sake makes a smaller angle. */
const SLIVER_COSINE = 0.978;
/** Edge lengths grow away from a finely followed border by this much per metre. */
const GRADATION = 0.6;
/** Lines are not given edges shorter than this share of the wished length. */
const SHORTEST_LINE_EDGE = 0.25;
/** Distance between a chord and its line at full and at no border detail, as shares of the edge length. */
const [FINE_TOLERANCE, COARSE_TOLERANCE] = [0.018, 1];

/**
 * Even triangles of a wished edge length over the same surface.
 *
 * Edges too long are split, those too short collapsed, edges flipped towards six triangles around a point, points
 * moved within the surface towards the middle of their neighbours and put back onto the source; all this eight times.
 * Open borders and kept lines are chains of their own: their points only move along them, and ends and corners stay.
 * A symmetric source is cut in two, one half remeshed, and mirrored.
 *
 * @param source - Points that share places must be shared (`weldPoints`).
 * @throws {RangeError} If the edge length is not above zero.
 * About O(n log n) of the larger of source and result.
 *
 * Reference: M. Botsch, L. Kobbelt, *A remeshing approach to multiresolution modeling*, SGP 2004. Departures: lines as
 * chains with arc length; shorter edges where a border needs them, with lengths that grow away from it; a last pass
 * that flips for the largest smallest angle.
 */
export function remesh(source: Surface, options: RemeshOptions): Surface {
  if (!(options.edgeLength > 0))
    throw new RangeError(`edge length is ${options.edgeLength}; it must be above 0 m`);
  if (source.triangles.length === 0) return source;
  if ((options.keepsSymmetry ?? true) && isMirrorSymmetric(source, 0.02 * options.edgeLength)) {
    const half = cutHalf(source, options.lines);
    return joinHalves(new Remesher(half.surface, { ...options, lines: half.lines }, true).run());
  }
  return new Remesher(source, options, false).run();
}

class Remesher {
  readonly #mesh: EditableMesh;
  readonly #index: SpatialIndex;
  readonly #source: Surface;
  readonly #polylines: FeaturePolyline[];
  readonly #edgeLength: number;
  readonly #onProgress: (share: number) => void;
  /** Wished length of edges at each point. */
  #sizes: number[] = [];

  /** @param isHalf - The border in the plane x = 0 is where the surface was cut. */
  constructor(source: Surface, options: RemeshOptions, isHalf: boolean) {
    const { edgeLength, borderDetail = 1, sharpAngle = Math.PI, lines, onProgress } = options;
    this.#source = source;
    this.#mesh = new EditableMesh(source);
    this.#index = new SpatialIndex(source.positions.slice(), source.triangles);
    this.#edgeLength = edgeLength;
    this.#onProgress = onProgress ?? (() => {});
    this.#polylines = buildFeaturePolylines(
      this.#mesh,
      listFeatureEdges(source, Math.cos(sharpAngle), lines),
    );
    // Geometric between the two, so that the control feels even.
    const tolerance = edgeLength * COARSE_TOLERANCE * (FINE_TOLERANCE / COARSE_TOLERANCE) ** borderDetail;
    for (const polyline of this.#polylines) {
      const isCut = isHalf && polyline.positions.every((value, i) => i % 3 !== 0 || value === 0);
      const within = isCut ? Number.POSITIVE_INFINITY : tolerance;
      polyline.spacing = chooseSpacing(polyline, edgeLength, SHORTEST_LINE_EDGE * edgeLength, within);
    }
  }

  run(): Surface {
    for (let pass = 0; pass < PASSES; pass++) {
      this.#onProgress(pass / PASSES);
      this.#computeSizes();
      this.#splitLong();
      this.#collapseShort();
      this.#flip((a, b, c, d) => this.#improvesValence(a, b, c, d));
      this.#relax();
    }
    this.#flip((a, b, c, d) => this.#improvesAngles(a, b, c, d));
    this.#onProgress(1);
    return this.#mesh.compact().surface;
  }

  /** From the lines inward, growing with the distance, never above the wished length. */
  #computeSizes(): void {
    const mesh = this.#mesh;
    const sizes = new Array<number>(mesh.pointCount).fill(this.#edgeLength);
    const edges = mesh.listEdges();
    for (let i = 0; i < edges.length; i += 2) {
      const [a, b] = [edges[i]!, edges[i + 1]!];
      const polyline = mesh.getEdgePolyline(a, b);
      if (polyline === NO_CHAIN) continue;
      const { spacing } = this.#polylines[polyline]!;
      // A line too short for one wished edge would drag its surroundings along.
      const size = Math.min(this.#edgeLength, Math.max(spacing, SHORTEST_LINE_EDGE * this.#edgeLength));
      sizes[a] = Math.min(sizes[a]!, size);
      sizes[b] = Math.min(sizes[b]!, size);
    }
    for (let sweep = 0; sweep < 6; sweep++) {
      for (let i = 0; i < edges.length; i += 2) {
        const [a, b] = [edges[i]!, edges[i + 1]!];
        const growth = GRADATION * mesh.getLength(a, b);
        if (sizes[a]! > sizes[b]! + growth) sizes[a] = sizes[b]! + growth;
        else if (sizes[b]! > sizes[a]! + growth) sizes[b] = sizes[a]! + growth;
      }
    }
    this.#sizes = sizes;
  }

  #targetLength(a: number, b: number): number {
    const polyline = this.#mesh.getEdgePolyline(a, b);
    if (polyline !== NO_CHAIN) return this.#polylines[polyline]!.spacing;
    return (this.#sizes[a]! + this.#sizes[b]!) / 2;
  }

  #splitLong(): void {
    const mesh = this.#mesh;
    // Edges made by a split are looked at again in the next round.
    for (let round = 0; round < 8; round++) {
      let count = 0;
      const edges = mesh.listEdges();
      for (let i = 0; i < edges.length; i += 2) {
        const [a, b] = [edges[i]!, edges[i + 1]!];
        if (mesh.listTriangles(a, b).length === 0) continue;
        const polyline = mesh.getEdgePolyline(a, b);
        const length = polyline === NO_CHAIN ? mesh.getLength(a, b) : this.#lengthOnPolyline(polyline, a, b);
        if (length <= SPLIT_SHARE * this.#targetLength(a, b)) continue;
        this.#split(a, b, polyline);
        count++;
      }
      if (count === 0) return;
    }
  }

  #split(a: number, b: number, polyline: number): void {
    const mesh = this.#mesh;
    if (polyline === NO_CHAIN) {
      const p = mesh.positions;
      const at = (k: number): number => (p[3 * a + k]! + p[3 * b + k]!) / 2;
      const middle = mesh.split(a, b, [at(0), at(1), at(2)]);
      this.#sizes[middle] = (this.#sizes[a]! + this.#sizes[b]!) / 2;
      return;
    }
    const line = this.#polylines[polyline]!;
    const displacement = (getDisplacement(mesh, line, a, b) + getDisplacement(mesh, line, b, a)) / 2;
    const middle = mesh.split(a, b, placeOnPolyline(line, displacement));
    mesh.along[middle] = displacement;
    this.#sizes[middle] = Math.min(this.#sizes[a]!, this.#sizes[b]!);
  }

  #lengthOnPolyline(polyline: number, a: number, b: number): number {
    const line = this.#polylines[polyline]!;
    return Math.abs(getDisplacement(this.#mesh, line, a, b) - getDisplacement(this.#mesh, line, b, a));
  }

  #collapseShort(): void {
    const mesh = this.#mesh;
    const listed = mesh.listEdges();
    const edges: { a: number; b: number; length: number }[] = [];
    for (let i = 0; i < listed.length; i += 2) {
      const [a, b] = [listed[i]!, listed[i + 1]!];
      const length = mesh.getLength(a, b);
      if (length < this.#edgeLength) edges.push({ a, b, length });
    }
    edges.sort((p, q) => p.length - q.length || p.a - q.a || p.b - q.b);
    for (const { a, b } of edges) {
      if (!mesh.isAlive(a) || !mesh.isAlive(b)) continue;
      const polyline = mesh.getEdgePolyline(a, b);
      const length = polyline === NO_CHAIN ? mesh.getLength(a, b) : this.#lengthOnPolyline(polyline, a, b);
      if (length >= COLLAPSE_SHARE * this.#targetLength(a, b)) continue;
      this.#collapse(a, b, polyline);
    }
  }

  #collapse(p: number, q: number, polyline: number): void {
    const mesh = this.#mesh;
    if (!this.#isBound(p) !== !this.#isBound(q)) {
      // A free point goes into one on a line.
      const [kept, lost] = this.#isBound(p) ? [p, q] : [q, p];
      this.#collapseTo(kept, lost, getPosition(mesh, kept), mesh.along[kept]!);
    } else if (!this.#isBound(p)) {
      const [a, b] = [getPosition(mesh, p), getPosition(mesh, q)];
      this.#collapseTo(p, q, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2], 0);
    } else if (polyline !== NO_CHAIN && !(mesh.isFixed[p] && mesh.isFixed[q])) {
      const line = this.#polylines[polyline]!;
      const [kept, lost] = mesh.isFixed[q] ? [q, p] : [p, q];
      const displacement = (getDisplacement(mesh, line, p, q) + getDisplacement(mesh, line, q, p)) / 2;
      if (mesh.isFixed[kept]) this.#collapseTo(kept, lost, getPosition(mesh, kept), 0);
      else this.#collapseTo(kept, lost, placeOnPolyline(line, displacement), displacement);
    }
  }

  #isBound(point: number): boolean {
    return this.#mesh.isFixed[point]! || this.#mesh.polylines[point] !== NO_CHAIN;
  }

  #collapseTo(kept: number, lost: number, position: [number, number, number], displacement: number): void {
    const mesh = this.#mesh;
    if (!mesh.canCollapse(kept, lost)) return;
    for (const [point, other] of [
      [kept, lost],
      [lost, kept],
    ] as const) {
      for (const next of mesh.listNeighbours(point)) {
        if (next === other) continue;
        const longest = SPLIT_SHARE * this.#targetLength(point, next);
        if (distanceFrom(mesh, next, position) > longest) return;
      }
      if (!mesh.keepsShape(point, other, position)) return;
    }
    mesh.collapse(kept, lost);
    setPosition(mesh, kept, position);
    if (!mesh.isFixed[kept]) mesh.along[kept] = displacement;
  }

  #flip(improves: (a: number, b: number, c: number, d: number) => boolean): void {
    const mesh = this.#mesh;
    for (let round = 0; round < 3; round++) {
      let count = 0;
      const edges = mesh.listEdges();
      for (let i = 0; i < edges.length; i += 2) {
        const [a, b] = [edges[i]!, edges[i + 1]!];
        if (mesh.getEdgePolyline(a, b) !== NO_CHAIN) continue;
        const triangles = mesh.listTriangles(a, b);
        if (triangles.length !== 2) continue;
        const [c, d] = triangles.map((t) => mesh.across(t, a, b)) as [number, number];
        if (!improves(a, b, c, d) || !this.#staysFlat(triangles as [number, number], a, b, c, d)) continue;
        if (mesh.flip(a, b)) count++;
      }
      if (count === 0) return;
    }
  }

  /** Whether the two triangles after a flip face as those before, so that nothing folds over. */
  #staysFlat([first, second]: [number, number], a: number, b: number, c: number, d: number): boolean {
    const mesh = this.#mesh;
    const n1 = mesh.writeNormal(first, [0, 0, 0]);
    const n2 = mesh.writeNormal(second, [0, 0, 0]);
    // The first triangle may name the edge either way round; the quad is read in its order.
    const k = [0, 1, 2].find((corner) => mesh.corners[3 * first + corner] === a)!;
    const isForward = mesh.corners[3 * first + ((k + 1) % 3)] === b;
    const [from, to] = isForward ? [a, b] : [b, a];
    return [normalOf(mesh, from, d, c), normalOf(mesh, to, c, d)].every(
      (n) =>
        (facesAlike(n, n1, 0.5) || mesh.isSliver(first)) && (facesAlike(n, n2, 0.5) || mesh.isSliver(second)),
    );
  }

  #improvesValence(a: number, b: number, c: number, d: number): boolean {
    const mesh = this.#mesh;
    // A sliver is mended whatever the valences.
    const sharpest = Math.max(widestCosine(mesh, a, b, c), widestCosine(mesh, a, b, d));
    const flipped = Math.max(widestCosine(mesh, a, c, d), widestCosine(mesh, b, c, d));
    if (sharpest > SLIVER_COSINE) return flipped < sharpest - 1e-6;
    const [ea, eb, ec, ed] = [getExcess(mesh, a), getExcess(mesh, b), getExcess(mesh, c), getExcess(mesh, d)];
    const before = ea * ea + eb * eb + ec * ec + ed * ed;
    const after = (ea - 1) ** 2 + (eb - 1) ** 2 + (ec + 1) ** 2 + (ed + 1) ** 2;
    // Along a border six neighbours may all lie in one line.
    return after < before && flipped < SLIVER_COSINE;
  }

  #improvesAngles(a: number, b: number, c: number, d: number): boolean {
    const mesh = this.#mesh;
    const before = Math.max(widestCosine(mesh, a, b, c), widestCosine(mesh, a, b, d));
    const after = Math.max(widestCosine(mesh, a, c, d), widestCosine(mesh, b, c, d));
    return after < before - 1e-6;
  }

  #relax(): void {
    const mesh = this.#mesh;
    this.#relaxPolylines();
    for (let point = 0; point < mesh.pointCount; point++) {
      if (!mesh.isAlive(point) || this.#isBound(point)) continue;
      const position = this.#relaxedPlace(point);
      if (position && mesh.keepsShape(point, -1, position)) setPosition(mesh, point, position);
    }
  }

  #relaxPolylines(): void {
    const mesh = this.#mesh;
    const sums = new Map<number, number>();
    const edges = mesh.listEdges();
    for (let i = 0; i < edges.length; i += 2) {
      const [a, b] = [edges[i]!, edges[i + 1]!];
      const polyline = mesh.getEdgePolyline(a, b);
      if (polyline === NO_CHAIN) continue;
      const line = this.#polylines[polyline]!;
      if (!mesh.isFixed[a]) sums.set(a, (sums.get(a) ?? 0) + getDisplacement(mesh, line, b, a) / 2);
      if (!mesh.isFixed[b]) sums.set(b, (sums.get(b) ?? 0) + getDisplacement(mesh, line, a, b) / 2);
    }
    for (const [point, displacement] of sums) {
      const position = placeOnPolyline(this.#polylines[mesh.polylines[point]!]!, displacement);
      if (!mesh.keepsShape(point, -1, position)) continue;
      mesh.along[point] = displacement;
      setPosition(mesh, point, position);
    }
  }

  /** The middle of a point's triangles by wished density, within the surface, put onto the source. */
  #relaxedPlace(point: number): [number, number, number] | null {
    const mesh = this.#mesh;
    const p = mesh.positions;
    const middle = [0, 0, 0];
    const normal: [number, number, number] = [0, 0, 0];
    const n: [number, number, number] = [0, 0, 0];
    let total = 0;
    for (const t of mesh.around[point]!) {
      mesh.writeNormal(t, n);
      const [a, b, c] = [mesh.corners[3 * t]!, mesh.corners[3 * t + 1]!, mesh.corners[3 * t + 2]!];
      const size = (this.#sizes[a]! + this.#sizes[b]! + this.#sizes[c]!) / 3;
      const weight = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) / (size * size);
      total += weight;
      for (let k = 0; k < 3; k++) {
        normal[k] = normal[k]! + n[k]!;
        middle[k] = middle[k]! + (weight * (p[3 * a + k]! + p[3 * b + k]! + p[3 * c + k]!)) / 3;
      }
    }
    const length = Math.sqrt(normal[0] ** 2 + normal[1] ** 2 + normal[2] ** 2);
    if (!(total > 0) || !(length > 0)) return null;
    const displacement = [0, 1, 2].map((k) => middle[k]! / total - p[3 * point + k]!);
    const lift =
      (displacement[0]! * normal[0] + displacement[1]! * normal[1] + displacement[2]! * normal[2]) /
      (length * length);
    const [x, y, z] = [0, 1, 2].map((k) => p[3 * point + k]! + displacement[k]! - lift * normal[k]!) as [
      number,
      number,
      number,
    ];
    const closest = this.#index.findClosest(x, y, z);
    // The other side of a thin shell is closest now and then; the point then waits for its neighbours.
    if (!closest || !facesAlike(normal, normalOfSource(this.#source, closest.triangle), 0)) return null;
    return closest.point;
  }
}

/** Open borders, edges that two triangles meet at a sharp angle, edges that are not manifold, and those asked for. */
function listFeatureEdges(
  source: Surface,
  sharpCosine: number,
  lines: Uint32Array | undefined,
): [number, number][] {
  const table = buildEdgeTable(source.triangles, source.positions.length / 3);
  const features: [number, number][] = [];
  const nonManifold = new Set(table.nonManifold);
  const kept = new Set<string>();
  for (let i = 0; i < (lines?.length ?? 0); i += 2) {
    kept.add([lines![i]!, lines![i + 1]!].sort((p, q) => p - q).join());
  }
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    const [t, other] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    const isFeature =
      other === NO_TRIANGLE ||
      nonManifold.has(e) ||
      kept.has(`${a},${b}`) ||
      (sharpCosine > -1 &&
        !facesAlike(normalOfSource(source, t), normalOfSource(source, other), sharpCosine));
    if (isFeature) features.push([a, b]);
  }
  return features;
}

/** Triangles around a point beyond the six (on a border: three) that make even ones. */
function getExcess(mesh: EditableMesh, point: number): number {
  return mesh.around[point]!.length - (mesh.isBorder[point] ? 3 : 6);
}

function getPosition({ positions: p }: EditableMesh, point: number): [number, number, number] {
  return [p[3 * point]!, p[3 * point + 1]!, p[3 * point + 2]!];
}

function setPosition(
  { positions: p }: EditableMesh,
  point: number,
  position: readonly [number, number, number],
): void {
  for (let k = 0; k < 3; k++) p[3 * point + k] = position[k]!;
}

function distanceFrom(
  mesh: EditableMesh,
  point: number,
  position: readonly [number, number, number],
): number {
  const p = getPosition(mesh, point);
  return Math.sqrt((p[0] - position[0]) ** 2 + (p[1] - position[1]) ** 2 + (p[2] - position[2]) ** 2);
}

/** Whether the cosine between two directions is above a bound. Directions without a length face no way: false. */
function facesAlike(u: Vector3, v: Vector3, cosine: number): boolean {
  const dot = u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
  const lengths = (u[0] ** 2 + u[1] ** 2 + u[2] ** 2) * (v[0] ** 2 + v[1] ** 2 + v[2] ** 2);
  return dot > cosine * Math.sqrt(lengths);
}

function normalOf({ positions }: EditableMesh, a: number, b: number, c: number): MutableVector3 {
  return writeTriangleCross(positions, 3 * a, 3 * b, 3 * c, [0, 0, 0]);
}

function normalOfSource({ positions, triangles }: Surface, triangle: number): MutableVector3 {
  const at = (corner: number): number => 3 * triangles[3 * triangle + corner]!;
  return writeTriangleCross(positions, at(0), at(1), at(2), [0, 0, 0]);
}

/** Cosine of the smallest angle of a triangle. */
function widestCosine(mesh: EditableMesh, a: number, b: number, c: number): number {
  const [ab, bc, ca] = [mesh.getLength(a, b), mesh.getLength(b, c), mesh.getLength(c, a)];
  const cosine = (x: number, y: number, across: number): number =>
    x > 0 && y > 0 ? (x * x + y * y - across * across) / (2 * x * y) : 1;
  return Math.max(cosine(ab, ca, bc), cosine(ab, bc, ca), cosine(bc, ca, ab));
}
