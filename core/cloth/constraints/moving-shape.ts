import { createCapsuleHit, measureTaperedCapsule } from '../../bodies/index.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import { RECOVERY_SPEED } from '../kernel/assembly/constants.ts';
import type { SolverState } from '../solver-state.ts';

/** A point that moves farther than this share of a body's least radius in a substep is followed on its way. */
const SWEEP_SHARE = 0.5;
/** Places looked at on the way at most. */
const MOST_SAMPLES = 16;

/** What a shape says of one place. `scratch` is reused. */
interface Contact {
  distance: number;
  nx: number;
  ny: number;
  nz: number;
  along: number;
}

/** A body as it moves in one substep. */
export interface MovingShape {
  /** Box of the shape over the substep, thickness included. */
  low: [number, number, number];
  high: [number, number, number];
  /** Least radius, m. */
  size: number;
  measure: (x: number, y: number, z: number, out: Contact) => void;
  /** Writes how far the surface beneath a contact moves in this substep. */
  writeDisplacement: (
    x: number,
    y: number,
    z: number,
    contact: Contact,
    out: [number, number, number],
  ) => void;
}

const contact: Contact = createCapsuleHit();
const displacement: [number, number, number] = [0, 0, 0];

/** Whether a way from s to p may touch a shape at all. */
export function isWithinBox(
  { low, high }: MovingShape,
  p: readonly [number, number, number],
  s: readonly [number, number, number],
): boolean {
  for (let k = 0; k < 3; k++) {
    if (Math.max(p[k]!, s[k]!) < low[k]! || Math.min(p[k]!, s[k]!) > high[k]!) return false;
  }
  return true;
}

/**
 * Where a place of cloth at p, which was at s at the start of the substep, is pushed by a body: out of it, less what friction takes
 * from its sliding along the moving surface, as Coulomb's law allows for the depth it was pushed.
 *
 * A place that moves far against a body in one substep is followed on its way, so that it does not come out on the
 * other side. One that began inside is let out at `RECOVERY_SPEED`.
 *
 * @param out - The push, m. @returns False when it is not touched.
 *
 * Reference for friction: M. Müller et al., *Detailed rigid body simulation with extended position based
 * dynamics*, SCA 2020, section 3.5.
 */
export function resolveContact(
  shape: MovingShape,
  { h, thickness, friction }: FrameNumbers,
  p: readonly [number, number, number],
  s: readonly [number, number, number],
  out: [number, number, number],
): boolean {
  const [px, py, pz] = p;
  shape.measure(px, py, pz, contact);
  shape.writeDisplacement(px, py, pz, contact, displacement);
  const mx = px - s[0] - displacement[0];
  const my = py - s[1] - displacement[1];
  const mz = pz - s[2] - displacement[2];
  const lengthSquared = mx * mx + my * my + mz * mz;
  let depth = thickness - contact.distance;
  if (lengthSquared > (SWEEP_SHARE * shape.size) ** 2) {
    depth = followDisplacement(shape, thickness, px, py, pz, mx, my, mz, Math.sqrt(lengthSquared));
  }
  if (depth <= 0) return false;
  const { nx, ny, nz } = contact;
  const normalDisplacement = mx * nx + my * ny + mz * nz;
  const push = Math.min(depth, Math.max(0, RECOVERY_SPEED * h - normalDisplacement));
  const tx = mx - normalDisplacement * nx;
  const ty = my - normalDisplacement * ny;
  const tz = mz - normalDisplacement * nz;
  const slide = Math.sqrt(tx * tx + ty * ty + tz * tz);
  const kept = slide > 0 ? Math.min(1, (friction * push) / slide) : 0;
  out[0] = push * nx - kept * tx;
  out[1] = push * ny - kept * ty;
  out[2] = push * nz - kept * tz;
  return true;
}

/**
 * The first place inside on the straight way to p, by steps of half the body's least radius. Its normal stays in
 * `contact`. @returns Depth of p beneath the plane of that contact; 0 or less when the way stays outside.
 */
function followDisplacement(
  shape: MovingShape,
  thickness: number,
  px: number,
  py: number,
  pz: number,
  mx: number,
  my: number,
  mz: number,
  length: number,
): number {
  const samples = Math.min(MOST_SAMPLES, Math.ceil(length / (SWEEP_SHARE * shape.size)));
  for (let k = 1; k <= samples; k++) {
    const back = 1 - k / samples;
    shape.measure(px - back * mx, py - back * my, pz - back * mz, contact);
    if (contact.distance >= thickness) continue;
    const beyond = back * (mx * contact.nx + my * contact.ny + mz * contact.nz);
    return thickness - contact.distance - beyond;
  }
  return 0;
}

/** A round body in a substep, from and to shares of the frame. */
export function createCapsule(
  { capsulesFrom, capsulesTo }: SolverState,
  { thickness }: FrameNumbers,
  body: number,
  start: number,
  end: number,
): MovingShape {
  const o = 8 * body;
  const before = new Float32Array(8);
  const after = new Float32Array(8);
  for (let i = 0; i < 8; i++) {
    const change = capsulesTo[o + i]! - capsulesFrom[o + i]!;
    before[i] = capsulesFrom[o + i]! + start * change;
    after[i] = capsulesFrom[o + i]! + end * change;
  }
  const ra = after[3]! + thickness;
  const rb = after[7]! + thickness;
  const corner = (k: number, sign: 1 | -1): number => {
    const reach = [before[k]!, after[k]!].map((place) => sign * place + ra);
    const other = [before[4 + k]!, after[4 + k]!].map((place) => sign * place + rb);
    return sign * Math.max(...reach, ...other);
  };
  return {
    low: [corner(0, -1), corner(1, -1), corner(2, -1)],
    high: [corner(0, 1), corner(1, 1), corner(2, 1)],
    size: Math.min(after[3]!, after[7]!),
    measure: (x, y, z, out) => measureTaperedCapsule(after, 0, x, y, z, out),
    writeDisplacement: (_x, _y, _z, { along }, out) => {
      for (let k = 0; k < 3; k++) {
        const displacementA = after[k]! - before[k]!;
        out[k] = displacementA + along * (after[4 + k]! - before[4 + k]! - displacementA);
      }
    },
  };
}

/** A hull in a substep, from and to shares of the frame. */
export function createHull(
  state: SolverState,
  { thickness, substeps }: FrameNumbers,
  hull: number,
  start: number,
  end: number,
): MovingShape {
  const { planesFrom, planesTo, hulls, hullBoxesFrom, hullBoxesTo, hullMotions, hullSizes } = state;
  const planes: [number, number, number, number][] = [];
  for (let p = hulls[hull]!; p < hulls[hull + 1]!; p++) {
    planes.push(
      [0, 1, 2, 3].map((k) => {
        const from = planesFrom[4 * p + k]!;
        return from + end * (planesTo[4 * p + k]! - from);
      }) as [number, number, number, number],
    );
  }
  const box = (k: number, share: number): number => {
    const from = hullBoxesFrom[8 * hull + k]!;
    return from + share * (hullBoxesTo[8 * hull + k]! - from);
  };
  const low = [0, 1, 2].map((k) => Math.min(box(k, start), box(k, end)) - thickness);
  const high = [4, 5, 6].map((k) => Math.max(box(k, start), box(k, end)) + thickness);
  const m = 12 * hull;
  return {
    low: low as [number, number, number],
    high: high as [number, number, number],
    size: hullSizes[hull]!,
    measure: (x, y, z, out) => {
      out.distance = Number.NEGATIVE_INFINITY;
      for (const [nx, ny, nz, d] of planes) {
        const distance = nx * x + ny * y + nz * z - d;
        if (distance <= out.distance) continue;
        out.distance = distance;
        out.nx = nx;
        out.ny = ny;
        out.nz = nz;
      }
    },
    writeDisplacement: (x, y, z, _contact, out) => {
      for (let k = 0; k < 3; k++) {
        out[k] =
          (hullMotions[m + k]! * x +
            hullMotions[m + 3 + k]! * y +
            hullMotions[m + 6 + k]! * z +
            hullMotions[m + 9 + k]!) /
          substeps;
      }
    },
  };
}
