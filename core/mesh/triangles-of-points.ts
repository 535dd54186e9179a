/** The triangles around each point: those of point i stand at `list[start[i]] … list[start[i + 1] - 1]`. */
export function listTrianglesOfPoints(
  triangles: Uint32Array,
  pointCount: number,
): { start: Uint32Array; list: Uint32Array } {
  const start = new Uint32Array(pointCount + 1);
  for (let i = 0; i < triangles.length; i++) start[triangles[i]! + 1]!++;
  for (let i = 0; i < pointCount; i++) start[i + 1] = start[i + 1]! + start[i]!;
  const fill = start.slice();
  const list = new Uint32Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) list[fill[triangles[i]!]!++] = Math.floor(i / 3);
  return { start, list };
}
