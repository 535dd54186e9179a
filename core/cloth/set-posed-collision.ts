import type { PosedCollision } from '../bodies/index.ts';
import { invertAffine, multiplyMatrices } from '../math/index.ts';
import { MOST_CAPSULES, MOST_HULLS } from './kernel/assembly/layout.ts';
import { MOST_PLANES, type SolverState } from './solver-state.ts';

/**
 * Writes the bodies of a frame into a solver's state: where they are, and where they were. Bodies that were not there
 * before, or after a jump, stand still in their first frame.
 *
 * @param before - Null after a jump.
 * @throws {RangeError} When there are more than a solver keeps.
 */
export function setPosedCollision(
  state: SolverState,
  before: PosedCollision | null,
  now: PosedCollision,
): void {
  checkCounts(now);
  const isSame =
    before !== null &&
    before.capsules.length === now.capsules.length &&
    before.planes.length === now.planes.length &&
    before.starts.every((start, i) => start === now.starts[i]);
  if (isSame) {
    state.capsulesFrom.set(state.capsulesTo);
    state.planesFrom.set(state.planesTo);
    state.hullBoxesFrom.set(state.hullBoxesTo);
  }
  state.capsulesTo.set(now.capsules);
  state.planesTo.set(now.planes);
  state.hullBoxesTo.set(now.boxes);
  state.hulls.set(now.starts);
  state.hullSizes.set(now.sizes);
  if (!isSame) {
    state.capsulesFrom.set(now.capsules);
    state.planesFrom.set(now.planes);
    state.hullBoxesFrom.set(now.boxes);
  }
  for (let hull = 0; hull < now.sizes.length; hull++) {
    writeMotion(isSame ? before : now, now, hull, state.hullMotions);
  }
}

function checkCounts({ capsules, sizes, planes }: PosedCollision): void {
  const limits = [
    ['spheres and capsules', capsules.length / 8, MOST_CAPSULES],
    ['boxes, hulls and planes', sizes.length, MOST_HULLS],
    ['faces of boxes, hulls and planes', planes.length / 4, MOST_PLANES],
  ] as const;
  for (const [what, count, most] of limits) {
    if (count > most) throw new RangeError(`A garment meets ${count} ${what}; at most ${most} are possible.`);
  }
}

/** How a place x of the hull moved in the frame that ends with it there: x - B A⁻¹ x, B before and A after. */
function writeMotion(before: PosedCollision, now: PosedCollision, hull: number, out: Float32Array): void {
  const o = 12 * hull;
  const back = new Float64Array(16);
  if (!invertAffine(back, 0, now.frames, 16 * hull)) {
    out.fill(0, o, o + 12);
    return;
  }
  const product = new Float64Array(16);
  multiplyMatrices(product, 0, before.frames, 16 * hull, back, 0);
  for (let column = 0; column < 4; column++) {
    for (let row = 0; row < 3; row++) {
      out[o + 3 * column + row] = (column === row ? 1 : 0) - product[4 * column + row]!;
    }
  }
}
