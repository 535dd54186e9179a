import { NO_CHAIN } from './editable-mesh.ts';
import { getDisplacement, placeOnPolyline } from './feature-polylines.ts';
import { facesAlike, getPosition, normalOfSource, setPosition } from './places.ts';
import { isBound, type Remeshing } from './remeshing.ts';

/** Moves points towards the middle of their neighbours, on their line or within the source. */
export function relaxPoints(state: Remeshing): void {
  const mesh = state.mesh;
  relaxPolylines(state);
  for (let point = 0; point < mesh.pointCount; point++) {
    if (!mesh.isAlive(point) || isBound(state, point)) continue;
    const position = computeRelaxedPlace(state, point);
    if (position && mesh.keepsShape(point, -1, position)) setPosition(mesh, point, position);
    else putOnSource(state, point);
  }
}

/** Where a point cannot go to the middle of its neighbours, it goes to the source beneath it. */
function putOnSource(state: Remeshing, point: number): void {
  const mesh = state.mesh;
  const normal = mesh.computeFacing([point]);
  const closest = state.index.findClosest(...getPosition(mesh, point));
  if (!closest || !facesAlike(normal, normalOfSource(state.source, closest.triangle), 0)) return;
  if (mesh.keepsShape(point, -1, closest.point)) setPosition(mesh, point, closest.point);
}

function relaxPolylines(state: Remeshing): void {
  const mesh = state.mesh;
  const sums = new Map<number, number>();
  const edges = mesh.listEdges();
  for (let i = 0; i < edges.length; i += 2) {
    const [a, b] = [edges[i]!, edges[i + 1]!];
    const polyline = mesh.getEdgePolyline(a, b);
    if (polyline === NO_CHAIN) continue;
    const line = state.polylines[polyline]!;
    if (!mesh.isFixed[a]) sums.set(a, (sums.get(a) ?? 0) + getDisplacement(mesh, line, b) / 2);
    if (!mesh.isFixed[b]) sums.set(b, (sums.get(b) ?? 0) + getDisplacement(mesh, line, a) / 2);
  }
  for (const [point, displacement] of sums) {
    const position = placeOnPolyline(state.polylines[mesh.polylines[point]!]!, displacement);
    if (!mesh.keepsShape(point, -1, position)) continue;
    mesh.along[point] = displacement;
    setPosition(mesh, point, position);
  }
}

/** The middle of a point's triangles by wished density, within the surface, put onto the source. */
function computeRelaxedPlace(state: Remeshing, point: number): [number, number, number] | null {
  const mesh = state.mesh;
  const p = mesh.positions;
  const middle = [0, 0, 0];
  const normal: [number, number, number] = [0, 0, 0];
  const n: [number, number, number] = [0, 0, 0];
  let total = 0;
  for (const t of mesh.around[point]!) {
    mesh.writeNormal(t, n);
    const [a, b, c] = [mesh.corners[3 * t]!, mesh.corners[3 * t + 1]!, mesh.corners[3 * t + 2]!];
    const size = (state.sizes[a]! + state.sizes[b]! + state.sizes[c]!) / 3;
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
  const closest = state.index.findClosest(x, y, z);
  // The other side of a thin shell is closest now and then; the point then waits for its neighbours.
  if (!closest || !facesAlike(normal, normalOfSource(state.source, closest.triangle), 0)) return null;
  return closest.point;
}
