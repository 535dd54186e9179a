/** Triangles over points, nothing else. */
export interface Surface {
  /** [n, 3] metres. */
  positions: Float32Array;
  /** [t, 3] */
  triangles: Uint32Array;
}
