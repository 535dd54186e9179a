import { BODY_STRIDE, createCapsuleHit, measureTaperedCapsule } from '../../bodies/index.ts';

export interface BodyPass {
  /** Bodies at the start and end of the frame, [m, 8] world space. */
  from: Float32Array;
  to: Float32Array;
  /** Shares of the frame at which the substep starts and ends, 0 to 1. */
  start: number;
  end: number;
  /** Metres kept from the surface. */
  thickness: number;
  /** Coulomb coefficient. */
  friction: number;
}

const hit = createCapsuleHit();
let rowsAtStart = new Float32Array(0);
let rowsAtEnd = new Float32Array(0);
let boxes = new Float32Array(0);

/**
 * Pushes points out of the bodies, and takes from each pushed point as much sliding along the moving surface
 * as Coulomb's law allows for the depth it was pushed.
 *
 * @param x - [n, 4], changed. @param previous - Places at the start of the substep, [n, 4].
 * O(n · m), most pairs ended by a box.
 *
 * Reference for friction: M. Müller et al., *Detailed rigid body simulation with extended position based
 * dynamics*, SCA 2020, section 3.5.
 */
export function solveBodies(x: Float32Array, previous: Float32Array, pass: BodyPass): void {
  const bodyCount = pass.to.length / BODY_STRIDE;
  if (bodyCount === 0) return;
  prepareRows(pass);
  // Body by body: its box stays in registers while the points run past it.
  for (let body = 0; body < bodyCount; body++) pushOut(x, previous, body, pass);
}

function pushOut(
  x: Float32Array,
  previous: Float32Array,
  body: number,
  { thickness, friction }: BodyPass,
): void {
  const o = BODY_STRIDE * body;
  const lowX = boxes[6 * body]!;
  const lowY = boxes[6 * body + 1]!;
  const lowZ = boxes[6 * body + 2]!;
  const highX = boxes[6 * body + 3]!;
  const highY = boxes[6 * body + 4]!;
  const highZ = boxes[6 * body + 5]!;
  for (let i = 0; i < x.length; i += 4) {
    const py = x[i + 1]!;
    if (py < lowY || py > highY) continue;
    const px = x[i]!;
    if (px < lowX || px > highX) continue;
    const pz = x[i + 2]!;
    if (pz < lowZ || pz > highZ || x[i + 3] === 0) continue;
    measureTaperedCapsule(rowsAtEnd, o, px, py, pz, hit);
    const depth = thickness - hit.distance;
    if (depth <= 0) continue;
    const { nx, ny, nz, along } = hit;
    const qx = px + depth * nx;
    const qy = py + depth * ny;
    const qz = pz + depth * nz;
    // Way of the point less the way of the surface beneath it, along the surface.
    const rx = qx - previous[i]! - surfaceWay(o, 0, along);
    const ry = qy - previous[i + 1]! - surfaceWay(o, 1, along);
    const rz = qz - previous[i + 2]! - surfaceWay(o, 2, along);
    const normalWay = rx * nx + ry * ny + rz * nz;
    const sx = rx - normalWay * nx;
    const sy = ry - normalWay * ny;
    const sz = rz - normalWay * nz;
    const slide = Math.sqrt(sx * sx + sy * sy + sz * sz);
    const kept = slide > 0 ? Math.min(1, (friction * depth) / slide) : 0;
    x[i] = qx - kept * sx;
    x[i + 1] = qy - kept * sy;
    x[i + 2] = qz - kept * sz;
  }
}

function surfaceWay(o: number, k: number, along: number): number {
  const wayA = rowsAtEnd[o + k]! - rowsAtStart[o + k]!;
  const wayB = rowsAtEnd[o + 4 + k]! - rowsAtStart[o + 4 + k]!;
  return wayA + along * (wayB - wayA);
}

function prepareRows(pass: BodyPass): void {
  if (rowsAtStart.length !== pass.to.length) {
    rowsAtStart = new Float32Array(pass.to.length);
    rowsAtEnd = new Float32Array(pass.to.length);
    boxes = new Float32Array((6 * pass.to.length) / BODY_STRIDE);
  }
  for (let i = 0; i < pass.to.length; i++) {
    const way = pass.to[i]! - pass.from[i]!;
    rowsAtStart[i] = pass.from[i]! + pass.start * way;
    rowsAtEnd[i] = pass.from[i]! + pass.end * way;
  }
  for (let body = 0; body < pass.to.length / BODY_STRIDE; body++) {
    const o = BODY_STRIDE * body;
    const ra = rowsAtEnd[o + 3]! + pass.thickness;
    const rb = rowsAtEnd[o + 7]! + pass.thickness;
    for (let k = 0; k < 3; k++) {
      boxes[6 * body + k] = Math.min(rowsAtEnd[o + k]! - ra, rowsAtEnd[o + 4 + k]! - rb);
      boxes[6 * body + 3 + k] = Math.max(rowsAtEnd[o + k]! + ra, rowsAtEnd[o + 4 + k]! + rb);
    }
  }
}
