import { cross, dot, subtract, type Vector3 } from '../../math/index.ts';
import { NO_CHAIN } from './editable-mesh.ts';
import { isTurned } from './is-turned.ts';
import { getPosition, setPosition } from './places.ts';
import { isBound, isOnCut, joinsOverCut, type Remeshing } from './remeshing.ts';

/** A mended triangle may turn one beside it; so often all are looked at again. */
const ROUNDS = 3;
/** Height of a triangle that is as good as a line, over its longest side: about half a degree. */
const FLAT = 0.01;

/**
 * Puts right what came to face away from the source little by little, each step of which was small: flips an edge, takes one away, or
 * puts a corner to the middle of its neighbours, whichever first leaves nothing turned there. Ours.
 */
export function mendTurned(state: Remeshing): void {
  const { mesh } = state;
  for (let round = 0; round < ROUNDS; round++) {
    let isDone = true;
    for (let t = 0; t < mesh.corners.length / 3; t++) {
      if (mesh.corners[3 * t]! < 0 || !isTurnedNow(state, t)) continue;
      if (tryFlips(state, t) || tryCollapses(state, t) || tryMoves(state, t)) isDone = false;
    }
    if (isDone) return;
  }
}

function isTurnedNow(state: Remeshing, t: number): boolean {
  const [a, b, c] = listCorners(state, t);
  return isTurnedAt(state, place(state, a), place(state, b), place(state, c));
}

/** One that is as flat as a line faces wherever rounding has it. */
function isTurnedAt({ source, index }: Remeshing, a: Vector3, b: Vector3, c: Vector3): boolean {
  return isFlat(a, b, c) || isTurned(source, index, a, b, c);
}

function isFlat(a: Vector3, b: Vector3, c: Vector3): boolean {
  const [u, v, w] = [subtract(b, a), subtract(c, a), subtract(c, b)];
  const n = cross(u, v);
  const longest = Math.max(dot(u, u), dot(v, v), dot(w, w));
  return dot(n, n) <= (FLAT * longest) ** 2;
}

function place({ mesh }: Remeshing, point: number): Vector3 {
  return getPosition(mesh, point);
}

function listCorners({ mesh }: Remeshing, t: number): [number, number, number] {
  return [mesh.corners[3 * t]!, mesh.corners[3 * t + 1]!, mesh.corners[3 * t + 2]!];
}

function tryFlips(state: Remeshing, t: number): boolean {
  const { mesh } = state;
  const corners = listCorners(state, t);
  for (let k = 0; k < 3; k++) {
    const [a, b, c] = [corners[k]!, corners[(k + 1) % 3]!, corners[(k + 2) % 3]!];
    const other = mesh.listTriangles(a, b).find((beside) => beside !== t);
    if (other === undefined || mesh.listTriangles(a, b).length !== 2) continue;
    if (mesh.getEdgePolyline(a, b) !== NO_CHAIN) continue;
    const d = mesh.across(other, a, b);
    if (isOnCut(state, c) && isOnCut(state, d)) continue;
    // The triangle runs from a to b to c: after the flip from a to d to c, and from d to b to c.
    const [pa, pb, pc, pd] = [a, b, c, d].map((point) => place(state, point)) as [
      Vector3,
      Vector3,
      Vector3,
      Vector3,
    ];
    if (isTurnedAt(state, pa, pd, pc) || isTurnedAt(state, pd, pb, pc)) continue;
    if (mesh.flip(a, b)) return true;
  }
  return false;
}

function tryCollapses(state: Remeshing, t: number): boolean {
  const { mesh } = state;
  const corners = listCorners(state, t);
  for (let k = 0; k < 3; k++) {
    for (const [kept, lost] of [
      [corners[k]!, corners[(k + 1) % 3]!],
      [corners[(k + 1) % 3]!, corners[k]!],
    ] as const) {
      // A point of a line may go along it alone.
      const isAlong = mesh.getEdgePolyline(kept, lost) !== NO_CHAIN && !mesh.isFixed[lost];
      if ((isBound(state, lost) && !isAlong) || !mesh.canCollapse(kept, lost)) continue;
      if (joinsOverCut(state, kept, lost) || turnsAny(state, lost, place(state, kept), kept)) continue;
      mesh.collapse(kept, lost);
      return true;
    }
  }
  return false;
}

function tryMoves(state: Remeshing, t: number): boolean {
  const { mesh } = state;
  for (const point of listCorners(state, t)) {
    if (isBound(state, point)) continue;
    const around = mesh.listNeighbours(point).map((next) => place(state, next));
    const middle = [0, 1, 2].map((k) => around.reduce((sum, at) => sum + at[k]!, 0) / around.length);
    const closest = state.index.findClosest(middle[0]!, middle[1]!, middle[2]!);
    if (!closest || turnsAny(state, point, closest.point, -1)) continue;
    setPosition(mesh, point, closest.point);
    return true;
  }
  return false;
}

/** Whether any triangle of a point is turned, or nothing, with the point elsewhere; those that have `except` do not count. */
function turnsAny(state: Remeshing, point: number, to: Vector3, except: number): boolean {
  return state.mesh.around[point]!.some((t) => {
    const corners = listCorners(state, t);
    if (corners.includes(except)) return false;
    const [a, b, c] = corners.map((corner) => (corner === point ? to : place(state, corner))) as [
      Vector3,
      Vector3,
      Vector3,
    ];
    return isTurnedAt(state, a, b, c);
  });
}
