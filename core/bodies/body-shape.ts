/** One collision body on a joint. Lengths in metres in the joint's own space. */
export interface BodyShape {
  /** A sphere uses end `a` and `radiusA` only; a capsule has one radius (`radiusA`). */
  kind: 'sphere' | 'capsule' | 'taperedCapsule';
  /** Node index in the skeleton. */
  node: number;
  a: [number, number, number];
  b: [number, number, number];
  radiusA: number;
  radiusB: number;
}

/** Numbers per body in a packed row: ax ay az ra bx by bz rb. */
export const BODY_STRIDE = 8;

/**
 * All kinds as tapered capsules: a sphere is one of no length, a capsule one of equal radii. A tapered capsule
 * whose larger end swallows the smaller is that end's sphere.
 * @returns [m, 8] in joint space.
 */
export function packBodies(bodies: readonly BodyShape[]): { rows: Float32Array; nodes: Int32Array } {
  const rows = new Float32Array(bodies.length * BODY_STRIDE);
  bodies.forEach((body, i) => {
    let { a, b, radiusA, radiusB } = body;
    if (body.kind === 'sphere') {
      b = a;
      radiusB = radiusA;
    } else if (body.kind === 'capsule') {
      radiusB = radiusA;
    }
    const [dx, dy, dz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (length <= Math.abs(radiusA - radiusB)) {
      if (radiusA >= radiusB) {
        b = a;
        radiusB = radiusA;
      } else {
        a = b;
        radiusA = radiusB;
      }
    }
    rows.set([...a, radiusA, ...b, radiusB], BODY_STRIDE * i);
  });
  return { rows, nodes: Int32Array.from(bodies, (body) => body.node) };
}
