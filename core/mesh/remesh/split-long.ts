import { cross, type MutableVector3, subtract, type Vector3 } from '../../math/index.ts';
import { MinHeap } from '../min-heap.ts';
import { type EditableMesh, NO_CHAIN } from './editable-mesh.ts';
import { getDisplacement, placeOnPolyline } from './feature-polylines.ts';
import { facesAlike, getPosition } from './places.ts';
import { measureEdge, type Remeshing, SPLIT_SHARE, targetLength } from './remeshing.ts';

/** Of what a split makes, edges shorter than this share of the one that was split are looked at again; the others in the next pass. */
const SHORTER = 0.95;
/** Cosine between what a triangle was and its halves. */
const LEAST_FACING = 0.3;

/** The longest first: what is left beside is never much longer than what was cut, and no triangle becomes thin. */
export function splitLong(state: Remeshing): void {
  const mesh = state.mesh;
  const queue = new MinHeap();
  const ends: number[] = [];
  const push = (a: number, b: number): void => {
    if (measureEdge(state, a, b) <= SPLIT_SHARE * targetLength(state, a, b)) return;
    queue.push(-mesh.getLength(a, b), ends.length / 2);
    ends.push(a, b);
  };
  const edges = mesh.listEdges();
  for (let i = 0; i < edges.length; i += 2) push(edges[i]!, edges[i + 1]!);
  for (let e = queue.pop(); e >= 0; e = queue.pop()) {
    const [a, b] = [ends[2 * e]!, ends[2 * e + 1]!];
    if (mesh.listTriangles(a, b).length === 0) continue;
    const length = mesh.getLength(a, b);
    const middle = split(state, a, b, mesh.getEdgePolyline(a, b));
    // Beside a line that stays as it is, halves of a flat triangle could be cut for ever.
    for (const next of mesh.listNeighbours(middle))
      if (mesh.getLength(middle, next) < SHORTER * length) push(middle, next);
  }
}

function split(state: Remeshing, a: number, b: number, polyline: number): number {
  const mesh = state.mesh;
  const p = mesh.positions;
  const half = [0, 1, 2].map((k) => (p[3 * a + k]! + p[3 * b + k]!) / 2) as MutableVector3;
  if (polyline === NO_CHAIN) {
    const middle = mesh.split(a, b, half);
    state.sizes[middle] = (state.sizes[a]! + state.sizes[b]!) / 2;
    return middle;
  }
  const line = state.polylines[polyline]!;
  const displacement = (getDisplacement(mesh, line, a) + getDisplacement(mesh, line, b)) / 2;
  const onLine = placeOnPolyline(line, displacement);
  // Where the line would turn a triangle over, the point waits on the edge until those around have moved.
  const middle = mesh.split(a, b, staysFlat(mesh, a, b, onLine) ? onLine : half);
  mesh.along[middle] = displacement;
  state.sizes[middle] = Math.min(state.sizes[a]!, state.sizes[b]!);
  return middle;
}

/** Whether the halves of the triangles of an edge face as those do when they meet it at a place. */
function staysFlat(mesh: EditableMesh, a: number, b: number, middle: Vector3): boolean {
  return mesh.listTriangles(a, b).every((t) => {
    const facing = mesh.isSliver(t) ? mesh.computeFacing([a, b]) : mesh.writeNormal(t, [0, 0, 0]);
    const corners = [0, 1, 2].map((k) => mesh.corners[3 * t + k]!);
    return [a, b].every((gone) => {
      const [p, q, r] = corners.map((corner) => (corner === gone ? middle : getPosition(mesh, corner))) as [
        Vector3,
        Vector3,
        Vector3,
      ];
      return facesAlike(cross(subtract(q, p), subtract(r, p)), facing, LEAST_FACING);
    });
  });
}
