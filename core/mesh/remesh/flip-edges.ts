import { type EditableMesh, NO_CHAIN } from './editable-mesh.ts';
import { facesAlike, normalOf } from './places.ts';
import { isOnCut, type Remeshing } from './remeshing.ts';

/** Cosine of 12°: no flip for its own sake makes a smaller angle. */
const SLIVER_COSINE = 0.978;

/** Whether the edge from c to d is better than that from a to b. */
type Improves = (mesh: EditableMesh, a: number, b: number, c: number, d: number) => boolean;

/** Flips edges inside the surface where that improves it and keeps it flat. */
export function flipEdges(state: Remeshing, improves: Improves): void {
  const mesh = state.mesh;
  for (let round = 0; round < 3; round++) {
    let count = 0;
    const edges = mesh.listEdges();
    for (let i = 0; i < edges.length; i += 2) {
      const [a, b] = [edges[i]!, edges[i + 1]!];
      if (mesh.getEdgePolyline(a, b) !== NO_CHAIN) continue;
      const triangles = mesh.listTriangles(a, b);
      if (triangles.length !== 2) continue;
      const [c, d] = triangles.map((t) => mesh.across(t, a, b)) as [number, number];
      if (isOnCut(state, c) && isOnCut(state, d)) continue;
      if (!improves(mesh, a, b, c, d) || !staysFlat(mesh, triangles as [number, number], a, b, c, d))
        continue;
      if (mesh.flip(a, b)) count++;
    }
    if (count === 0) return;
  }
}

/** Whether the two triangles after a flip face as those before, so that nothing folds over. */
function staysFlat(
  mesh: EditableMesh,
  [first, second]: [number, number],
  a: number,
  b: number,
  c: number,
  d: number,
): boolean {
  const n1 = mesh.writeNormal(first, [0, 0, 0]);
  const n2 = mesh.writeNormal(second, [0, 0, 0]);
  // The first triangle may name the edge either way round; the quad is read in its order.
  const k = [0, 1, 2].find((corner) => mesh.corners[3 * first + corner] === a)!;
  const isForward = mesh.corners[3 * first + ((k + 1) % 3)] === b;
  const [from, to] = isForward ? [a, b] : [b, a];
  // A sliver's own normal says little: the surface around speaks for it.
  const isSliver = [mesh.isSliver(first), mesh.isSliver(second)];
  const around = isSliver[0] || isSliver[1] ? mesh.computeFacing([a, b, c, d]) : n1;
  const [was1, was2] = [isSliver[0] ? around : n1, isSliver[1] ? around : n2];
  return [normalOf(mesh, from, d, c), normalOf(mesh, to, c, d)].every(
    (n) => facesAlike(n, was1, 0.5) && facesAlike(n, was2, 0.5),
  );
}

/** By six triangles around each point, three on a border. */
export function improvesValence(mesh: EditableMesh, a: number, b: number, c: number, d: number): boolean {
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

/** By the smallest angle. */
export function improvesAngles(mesh: EditableMesh, a: number, b: number, c: number, d: number): boolean {
  const before = Math.max(widestCosine(mesh, a, b, c), widestCosine(mesh, a, b, d));
  const after = Math.max(widestCosine(mesh, a, c, d), widestCosine(mesh, b, c, d));
  return after < before - 1e-6;
}

/** Triangles around a point beyond the six (on a border: three) that make even ones. */
function getExcess(mesh: EditableMesh, point: number): number {
  return mesh.around[point]!.length - (mesh.isBorder[point] ? 3 : 6);
}

/** Cosine of the smallest angle of a triangle. */
function widestCosine(mesh: EditableMesh, a: number, b: number, c: number): number {
  const ab = mesh.getLength(a, b);
  const bc = mesh.getLength(b, c);
  const ca = mesh.getLength(c, a);
  return Math.max(cosineBetween(ab, ca, bc), cosineBetween(ab, bc, ca), cosineBetween(bc, ca, ab));
}

/** Of the angle between two sides of a triangle, by the side across. */
function cosineBetween(x: number, y: number, across: number): number {
  return x > 0 && y > 0 ? (x * x + y * y - across * across) / (2 * x * y) : 1;
}
