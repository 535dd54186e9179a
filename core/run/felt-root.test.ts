import { expect } from 'chai';
import { FABRIC_DEFAULTS, type RigidMotion } from '../cloth/index.ts';
import { FeltRoot } from './felt-root.ts';
import type { RootMove } from './root-motion.ts';

const FRAME = 1 / 60;
/** What changes in a frame by the default acceleration, m. */
const STEP = FABRIC_DEFAULTS.mostRootAcceleration * FRAME * FRAME;

/** A move along x and a turn about y. */
function move(x: number, angle = 0, from = 0): RootMove {
  const turn = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)] as const;
  return { turn, from: [from, 1, 0], to: [from + x, 1, 0] };
}

function apply({ turn, displacement }: RigidMotion, [x, y, z]: readonly number[]): number[] {
  return [0, 1, 2].map((k) => turn[k]! * x! + turn[3 + k]! * y! + turn[6 + k]! * z! + displacement[k]!);
}

/** How far along x cloth is carried in each of some moves. */
function carryAlong(ways: number[], fabric = FABRIC_DEFAULTS): number[] {
  const felt = new FeltRoot();
  return ways.map((x) => felt.feel(move(x), FRAME, fabric)?.displacement[0] ?? 0);
}

describe('what cloth feels of the root', () => {
  it('is all of an ordinary motion', () => {
    expect(carryAlong([0.01, 0.02, 0.03, 0.03, 0.01, 0])).deep.equal([0, 0, 0, 0, 0, 0]);
  });

  it('is nothing of a jump, however far, and what goes on before and after', () => {
    for (const far of [2 * STEP, 0.49, 1000]) {
      expect(carryAlong([0, far, 0, 0])).deep.equal([0, far, 0, 0]);
      const walking = carryAlong([0.02, 0.02, far, 0.02, 0.02]);
      for (const [i, value] of [0, 0, far - 0.02, 0, 0].entries()) expect(walking[i]).closeTo(value, 1e-9);
    }
  });

  it('follows what goes on, no faster than the fabric allows', () => {
    const carried = carryAlong([0, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1]);
    for (const [i, value] of [0, 0.1, 0.1 - STEP, 0.1 - 2 * STEP, 0.1 - 3 * STEP, 0, 0].entries())
      expect(carried[i]).closeTo(value, 1e-9);
    const soft = carryAlong([0.1, 0.1, 0.1], { ...FABRIC_DEFAULTS, mostRootAcceleration: 36 });
    expect(soft[1]).closeTo(0.09, 1e-9);
  });

  it('is as much of way and turn as the fabric says, about the root', () => {
    const fabric = { ...FABRIC_DEFAULTS, rootMotionShare: 0.5, rootTurnShare: 0 };
    const carried = new FeltRoot().feel(move(0.02, 0.05, 3), FRAME, fabric)!;
    expect(apply(carried, [3, 1, 0])[0]).closeTo(3.01, 1e-9);
    const beside = apply(carried, [4, 1, 0]);
    expect(beside[0]).closeTo(3.01 + Math.cos(0.05), 1e-9);
    expect(beside[2]).closeTo(-Math.sin(0.05), 1e-9);
    const half = new FeltRoot().feel(move(0, 0.05), FRAME, { ...fabric, rootTurnShare: 0.5 })!;
    expect(Math.atan2(-half.turn[2]!, half.turn[0]!)).closeTo(0.025, 1e-5);
  });

  it('is nothing of a turn that jumps, up to half a circle', () => {
    for (const angle of [0.2, 1, Math.PI]) {
      const felt = new FeltRoot();
      expect(felt.feel(move(0), FRAME, FABRIC_DEFAULTS)).equal(null);
      const { turn } = felt.feel(move(0, angle), FRAME, FABRIC_DEFAULTS)!;
      expect(turn[0]).closeTo(Math.cos(angle), 1e-9);
      expect(turn[2]).closeTo(-Math.sin(angle), 1e-9);
      expect(felt.feel(move(0), FRAME, FABRIC_DEFAULTS)).equal(null);
    }
  });
});
