import { NO_CHAIN } from './editable-mesh.ts';
import { getDisplacement, placeOnPolyline } from './feature-polylines.ts';
import { distanceFrom, getPosition, setPosition } from './places.ts';
import {
  COLLAPSE_SHARE,
  isBound,
  joinsOverCut,
  measureEdge,
  type Remeshing,
  SPLIT_SHARE,
  targetLength,
} from './remeshing.ts';

/** Takes short edges away, the shortest first. */
export function collapseShort(state: Remeshing): void {
  const mesh = state.mesh;
  const listed = mesh.listEdges();
  const edges: { a: number; b: number; length: number }[] = [];
  for (let i = 0; i < listed.length; i += 2) {
    const [a, b] = [listed[i]!, listed[i + 1]!];
    const length = mesh.getLength(a, b);
    if (length < state.edgeLength) edges.push({ a, b, length });
  }
  edges.sort((p, q) => p.length - q.length || p.a - q.a || p.b - q.b);
  for (const { a, b } of edges) {
    if (!mesh.isAlive(a) || !mesh.isAlive(b)) continue;
    if (measureEdge(state, a, b) >= COLLAPSE_SHARE * targetLength(state, a, b)) continue;
    collapse(state, a, b, mesh.getEdgePolyline(a, b));
  }
}

function collapse(state: Remeshing, p: number, q: number, polyline: number): void {
  const mesh = state.mesh;
  if (!isBound(state, p) !== !isBound(state, q)) {
    // A free point goes into one on a line.
    const [kept, lost] = isBound(state, p) ? [p, q] : [q, p];
    collapseTo(state, kept, lost, getPosition(mesh, kept), mesh.along[kept]!);
  } else if (!isBound(state, p)) {
    const [a, b] = [getPosition(mesh, p), getPosition(mesh, q)];
    collapseTo(state, p, q, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2], 0);
  } else if (polyline !== NO_CHAIN && !(mesh.isFixed[p] && mesh.isFixed[q])) {
    const line = state.polylines[polyline]!;
    const [kept, lost] = mesh.isFixed[q] ? [q, p] : [p, q];
    const displacement = (getDisplacement(mesh, line, p) + getDisplacement(mesh, line, q)) / 2;
    if (mesh.isFixed[kept]) collapseTo(state, kept, lost, getPosition(mesh, kept), 0);
    else collapseTo(state, kept, lost, placeOnPolyline(line, displacement), displacement);
  }
}

function collapseTo(
  state: Remeshing,
  kept: number,
  lost: number,
  position: [number, number, number],
  displacement: number,
): void {
  const mesh = state.mesh;
  if (!mesh.canCollapse(kept, lost) || joinsOverCut(state, kept, lost)) return;
  for (const [point, other] of [
    [kept, lost],
    [lost, kept],
  ] as const) {
    for (const next of mesh.listNeighbours(point)) {
      if (next === other) continue;
      const longest = SPLIT_SHARE * targetLength(state, point, next);
      if (distanceFrom(mesh, next, position) > longest) return;
    }
    if (!mesh.keepsShape(point, other, position)) return;
  }
  mesh.collapse(kept, lost);
  setPosition(mesh, kept, position);
  if (!mesh.isFixed[kept]) mesh.along[kept] = displacement;
}
