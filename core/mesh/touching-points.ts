import { DisjointSets } from '../math/index.ts';

/** Corners of triangles in groups: those at one point that hang together by edges there. */
export function joinCorners(triangles: Uint32Array, pointCount: number): DisjointSets {
  const corners = new DisjointSets(triangles.length);
  const first = new Map<number, number>();
  const cornerAt = (t: number, point: number): number =>
    3 * t + [0, 1, 2].find((k) => triangles[3 * t + k] === point)!;
  for (let i = 0; i < triangles.length; i++) {
    const t = Math.floor(i / 3);
    const [from, to] = [triangles[i]!, triangles[3 * t + ((i + 1) % 3)]!];
    const key = from < to ? from * pointCount + to : to * pointCount + from;
    const other = first.get(key);
    if (other === undefined) first.set(key, t);
    else for (const point of [from, to]) corners.join(cornerAt(t, point), cornerAt(other, point));
  }
  return corners;
}

/** Points at which parts meet that share no edge there, in order. @param triangles - [t, 3] */
export function listTouchingPoints(triangles: Uint32Array, pointCount: number): number[] {
  const corners = joinCorners(triangles, pointCount);
  const groupOf = new Int32Array(pointCount).fill(-1);
  const touching = new Set<number>();
  triangles.forEach((point, i) => {
    const group = corners.find(i);
    if (groupOf[point]! < 0) groupOf[point] = group;
    else if (groupOf[point] !== group) touching.add(point);
  });
  return [...touching].sort((p, q) => p - q);
}
