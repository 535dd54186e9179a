import { MinHeap } from '../min-heap.ts';
import type { Surface } from '../surface.ts';
import { computeTriangleAreas } from '../triangle-area.ts';
import { EditableMesh } from './editable-mesh.ts';
import { mendSource } from './mend-source.ts';
import { cutHalf, isMirrorSymmetric, joinHalves } from './mirror-halves.ts';
import { distanceFrom, getPosition, setPosition } from './places.ts';
import { addLine, addPlane, addQuadric, measureQuadrics, placeBest, QUADRIC } from './quadrics.ts';
import { type Cut, isOnCut, joinsOverCut } from './remeshing.ts';

export interface ReduceOptions {
  /** Points that it may have at most. */
  pointCount: number;
  /** Keep the mirror symmetry about x = 0 when the source has it. Default true. */
  keepsSymmetry?: boolean;
  /** Called now and then with the share done, 0 to 1. It may throw, to cancel. */
  onProgress?: (share: number) => void;
}

/** How much a point keeps near where the surface had one, against how near to its planes: it evens the triangles out. */
const LINE_WEIGHT = 0.002;
/** How much an open border keeps its place against the surface. */
const BORDER_WEIGHT = 4;
/** No edge becomes longer than so many times that of even triangles, unless nothing else can go: then so many times longer, again and again. */
const LONGEST = 2.2;
const LOOSER = 1.3;
const MOST_ROUNDS = 12;
const TOLD_EVERY = 256;

/**
 * The same surface with fewer points: edges go one by one, whichever costs least, each into the place that lies nearest to the planes
 * of the triangles it stands for. Triangles stay about even, none turns over, no piece goes. A symmetric source is cut in two, one half
 * reduced, and mirrored.
 *
 * @param source - Points that share places must be shared (`weldPoints`).
 * @returns As few points as asked for, or as few as can be.
 * @throws {RangeError} If fewer than 4 points are asked for.
 * About O(n log n).
 *
 * References: M. Garland, P. Heckbert, *Surface simplification using quadric error metrics*, SIGGRAPH 1997; line quadrics for even
 * triangles: H.-T. D. Liu, M. Rahimzadeh, V. Zordan, *Controlling quadric error simplification with line quadrics*, SGP 2025.
 * Departures: edges have a greatest length; symmetry.
 */
export function reduceSurface(source: Surface, options: ReduceOptions): Surface {
  const { pointCount, keepsSymmetry = true, onProgress = () => {} } = options;
  if (!(pointCount >= 4)) throw new RangeError(`${pointCount} points are no surface; ask for 4 or more`);
  const { surface } = mendSource(source);
  if (surface.positions.length / 3 <= pointCount) return surface;
  const even = measureEvenEdge(surface, pointCount);
  const reduce = (from: Surface, isHalf: boolean): Surface => {
    const reduction = new Reduction(from, LONGEST * even, isHalf);
    reduction.reduceTo(pointCount, onProgress);
    return reduction.mesh.compact().surface;
  };
  if (keepsSymmetry && isMirrorSymmetric(surface, 0.02 * even)) {
    const made = joinHalves(reduce(cutHalf(surface).surface, true));
    // The cut has points of its own: where they are too many, symmetry has to go.
    if (made.positions.length / 3 <= pointCount) return made;
  }
  return reduce(surface, false);
}

/** Edge of as many even triangles as such a number of points has, m. */
function measureEvenEdge({ positions, triangles }: Surface, pointCount: number): number {
  const area = computeTriangleAreas(positions, triangles).reduce((sum, value) => sum + value, 0);
  return Math.sqrt(area / (2 * pointCount) / (Math.sqrt(3) / 4));
}

/** Edges that may go, cheapest first; those whose points changed since are passed over. */
class Reduction implements Cut {
  readonly mesh: EditableMesh;
  readonly isHalf: boolean;
  #longest: number;
  readonly #quadrics: Float64Array;
  readonly #heap = new MinHeap();
  /** Of each entry of the heap its points, and how often they had changed. */
  readonly #entries: number[] = [];
  readonly #changes: Uint32Array;

  constructor(surface: Surface, longest: number, isHalf: boolean) {
    this.mesh = new EditableMesh(surface);
    this.isHalf = isHalf;
    this.#longest = longest;
    this.#quadrics = new Float64Array(QUADRIC * this.mesh.pointCount);
    this.#changes = new Uint32Array(this.mesh.pointCount);
    this.#gatherPlanes();
  }

  reduceTo(pointCount: number, onProgress: (share: number) => void): void {
    const { mesh } = this;
    let alive = 0;
    for (let point = 0; point < mesh.pointCount; point++)
      if (mesh.isAlive(point)) alive += this.#weigh(point);
    const first = alive;
    for (let round = 0; round < MOST_ROUNDS && alive > pointCount; round++) {
      alive = this.#reduceRound(alive, pointCount, (now) => onProgress((first - now) / (first - pointCount)));
      this.#longest *= LOOSER;
    }
    onProgress(1);
  }

  /** Takes edges away until there are so few points, or none can go. @returns Points of the whole that are left. */
  #reduceRound(count: number, pointCount: number, onProgress: (alive: number) => void): number {
    const { mesh } = this;
    const edges = mesh.listEdges();
    for (let i = 0; i < edges.length; i += 2) this.#offer(edges[i]!, edges[i + 1]!);
    let alive = count;
    for (let step = 0; alive > pointCount; step++) {
      if (step % TOLD_EVERY === 0) onProgress(alive);
      const entry = this.#heap.pop();
      if (entry < 0) break;
      const [a, b, changes] = this.#entries.slice(3 * entry, 3 * entry + 3) as [number, number, number];
      if (!mesh.isAlive(a) || !mesh.isAlive(b) || changes !== this.#changes[a]! + this.#changes[b]!) continue;
      // On the cut a point stays on it.
      const [kept, lost] = isOnCut(this, b) && !isOnCut(this, a) ? [b, a] : [a, b];
      const lostWeight = this.#weigh(lost);
      if (this.#collapse(kept, lost)) alive -= lostWeight;
    }
    return alive;
  }

  /** Points of the whole that one of a half stands for. */
  #weigh(point: number): number {
    return this.isHalf && !isOnCut(this, point) ? 2 : 1;
  }

  #offer(a: number, b: number): void {
    const cost = measureQuadrics(this.#quadrics, QUADRIC * a, QUADRIC * b, this.#findPlace(a, b));
    this.#heap.push(cost, this.#entries.length / 3);
    this.#entries.push(a, b, this.#changes[a]! + this.#changes[b]!);
  }

  #findPlace(a: number, b: number): [number, number, number] {
    const [p, q] = [getPosition(this.mesh, a), getPosition(this.mesh, b)];
    const isInPlane = isOnCut(this, a) || isOnCut(this, b);
    const middle: [number, number, number] = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2];
    if (isInPlane) middle[0] = 0;
    return placeBest(this.#quadrics, QUADRIC * a, QUADRIC * b, middle, isInPlane) ?? middle;
  }

  #collapse(kept: number, lost: number): boolean {
    const { mesh } = this;
    if (!mesh.canCollapse(kept, lost) || joinsOverCut(this, kept, lost)) return false;
    // Along the cut there is another half: an edge from border to border runs through the whole.
    if (this.#endsBorder(kept) && this.#endsBorder(lost)) return false;
    const position = this.#findPlace(kept, lost);
    for (const [point, other] of [
      [kept, lost],
      [lost, kept],
    ] as const) {
      for (const next of mesh.listNeighbours(point))
        if (next !== other && distanceFrom(mesh, next, position) > this.#longest) return false;
      if (!mesh.keepsShape(point, other, position)) return false;
    }
    mesh.collapse(kept, lost);
    setPosition(mesh, kept, position);
    addQuadric(this.#quadrics, QUADRIC * kept, QUADRIC * lost);
    this.#changes[kept]!++;
    for (const next of mesh.listNeighbours(kept)) this.#offer(kept, next);
    return true;
  }

  /** Whether an open border of the whole meets the cut in a point. */
  #endsBorder(point: number): boolean {
    if (!isOnCut(this, point)) return false;
    return this.mesh
      .listNeighbours(point)
      .some((next) => !isOnCut(this, next) && this.mesh.listTriangles(point, next).length === 1);
  }

  /** Of each point the planes of its triangles, a line along its normal, and upright planes along open borders. */
  #gatherPlanes(): void {
    const { mesh } = this;
    const normal: [number, number, number] = [0, 0, 0];
    const facing = new Float64Array(3 * mesh.pointCount);
    const areas = new Float64Array(mesh.pointCount);
    for (let t = 0; t < mesh.corners.length / 3; t++) {
      mesh.writeNormal(t, normal);
      const length = Math.sqrt(normal[0] ** 2 + normal[1] ** 2 + normal[2] ** 2);
      if (!(length > 0)) continue;
      const corners = mesh.corners.slice(3 * t, 3 * t + 3) as [number, number, number];
      const unit = [normal[0] / length, normal[1] / length, normal[2] / length] as const;
      const place = getPosition(mesh, corners[0]);
      for (let k = 0; k < 3; k++) {
        const point = corners[k]!;
        addPlane(this.#quadrics, QUADRIC * point, unit, place, length / 6);
        areas[point] = areas[point]! + length / 6;
        for (let c = 0; c < 3; c++) facing[3 * point + c] = facing[3 * point + c]! + normal[c]!;
        this.#gatherBorder(point, corners[(k + 1) % 3]!, unit);
      }
    }
    for (let point = 0; point < mesh.pointCount; point++) {
      const [x, y, z] = [facing[3 * point]!, facing[3 * point + 1]!, facing[3 * point + 2]!];
      const length = Math.sqrt(x * x + y * y + z * z);
      if (!(length > 0)) continue;
      const along = [x / length, y / length, z / length] as const;
      addLine(this.#quadrics, QUADRIC * point, along, getPosition(mesh, point), LINE_WEIGHT * areas[point]!);
    }
  }

  #gatherBorder(a: number, b: number, normal: readonly [number, number, number]): void {
    const { mesh } = this;
    if (!mesh.isBorder[a] || !mesh.isBorder[b] || mesh.listTriangles(a, b).length !== 1) return;
    const [p, q] = [getPosition(mesh, a), getPosition(mesh, b)];
    const length = mesh.getLength(a, b);
    if (!(length > 0)) return;
    const [x, y, z] = [(q[0] - p[0]) / length, (q[1] - p[1]) / length, (q[2] - p[2]) / length];
    const upright = [
      y * normal[2] - z * normal[1],
      z * normal[0] - x * normal[2],
      x * normal[1] - y * normal[0],
    ] as const;
    for (const point of [a, b])
      addPlane(this.#quadrics, QUADRIC * point, upright, p, BORDER_WEIGHT * length * length);
  }
}
