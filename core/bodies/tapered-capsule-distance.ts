/** What `measureTaperedCapsule` found; one object reused by the caller. */
export interface CapsuleHit {
  /** Signed, metres, negative inside. */
  distance: number;
  /** Outward unit normal of the surface. */
  nx: number;
  ny: number;
  nz: number;
  /** Where along the axis the closest surface belongs, 0 at end a, 1 at end b. */
  along: number;
}

/** A hit to be filled by `measureTaperedCapsule`: nothing is allocated in a loop. */
export function createCapsuleHit(): CapsuleHit {
  return { distance: 0, nx: 0, ny: 1, nz: 0, along: 0 };
}

/**
 * Exact signed distance to a tapered capsule: the convex hull of two spheres.
 *
 * ```
 *      ·  p            The cone touches sphere a at right angles to its slant, so the closest surface of p
 *    ╱ |               belongs to the axis point t* = t + h·tan(slant), not to p's own foot t.
 *  a───t──t*──b
 * ```
 * @param rows - [m, 8] rows of ax ay az ra bx by bz rb. Either |b - a| > |ra - rb|, or a = b and ra = rb.
 * @param o - Offset of the row.
 * A point exactly on the axis gets some normal at right angles to it.
 */
export function measureTaperedCapsule(
  rows: Float32Array,
  o: number,
  x: number,
  y: number,
  z: number,
  hit: CapsuleHit,
): void {
  const ax = rows[o]!;
  const ay = rows[o + 1]!;
  const az = rows[o + 2]!;
  const ra = rows[o + 3]!;
  const dx = rows[o + 4]! - ax;
  const dy = rows[o + 5]! - ay;
  const dz = rows[o + 6]! - az;
  const rb = rows[o + 7]!;
  const px = x - ax;
  const py = y - ay;
  const pz = z - az;
  const lengthSquared = dx * dx + dy * dy + dz * dz;
  let t = 0;
  if (lengthSquared > 0) {
    const foot = (px * dx + py * dy + pz * dz) / lengthSquared;
    if (ra === rb) {
      t = foot;
    } else {
      const hx = px - foot * dx;
      const hy = py - foot * dy;
      const hz = pz - foot * dz;
      const height = Math.sqrt(hx * hx + hy * hy + hz * hz);
      const length = Math.sqrt(lengthSquared);
      const sine = (ra - rb) / length;
      t = foot - (height * sine) / Math.sqrt(1 - sine * sine) / length;
    }
    t = t < 0 ? 0 : t > 1 ? 1 : t;
  }
  const cx = px - t * dx;
  const cy = py - t * dy;
  const cz = pz - t * dz;
  const distance = Math.sqrt(cx * cx + cy * cy + cz * cz);
  hit.distance = distance - (ra + t * (rb - ra));
  hit.along = t;
  if (distance > 1e-9) {
    hit.nx = cx / distance;
    hit.ny = cy / distance;
    hit.nz = cz / distance;
  } else {
    setPerpendicular(hit, dx, dy, dz);
  }
}

function setPerpendicular(hit: CapsuleHit, dx: number, dy: number, dz: number): void {
  // Cross with the axis least along d: never parallel.
  let nx = 0;
  let ny = dz;
  let nz = -dy;
  if (Math.abs(dx) > Math.abs(dy) || Math.abs(dx) > Math.abs(dz)) {
    nx = -dz;
    ny = 0;
    nz = dx;
  }
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
  hit.nx = length > 0 ? nx / length : 0;
  hit.ny = length > 0 ? ny / length : 1;
  hit.nz = length > 0 ? nz / length : 0;
}
