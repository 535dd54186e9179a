import { expect } from 'chai';
import { isTeleport, RootMotion, shareOfMove } from './root-motion.ts';

/** World matrix of a turn about the vertical and a place. */
function at(angle: number, x: number, y: number, z: number): Float64Array {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return Float64Array.of(c, 0, -s, 0, 0, 1, 0, 0, s, 0, c, 0, x, y, z, 1);
}

function apply(
  { turn, displacement }: ReturnType<typeof shareOfMove>,
  [x, y, z]: [number, number, number],
): number[] {
  return [0, 1, 2].map((k) => turn[k]! * x + turn[3 + k]! * y + turn[6 + k]! * z + displacement[k]!);
}

describe('the motion of the root', () => {
  it('is none at first, and then what the matrices say', () => {
    const root = new RootMotion([2, 0, 1]);
    const first = root.follow(at(0.4, 1, 2, 3));
    expect(first.from).deep.equal(first.to);
    expect(first.cosine).closeTo(1, 1e-12);
    const move = root.follow(at(0.7, 1.1, 2, 3));
    expect(move.cosine).closeTo(Math.cos(0.3), 1e-12);
    expect(move.to[0] - move.from[0]).closeTo(0.1, 1e-12);
    // Whole, it carries the root to where it is, and a place beside it around it.
    const whole = shareOfMove(move, 1, 1);
    for (const [k, value] of apply(whole, [1, 2, 3]).entries()) expect(value).closeTo(move.to[k]!, 1e-6);
    const beside = apply(whole, [1 + Math.cos(0.4), 2, 3 - Math.sin(0.4)]);
    expect(beside[0]).closeTo(1.1 + Math.cos(0.7), 1e-6);
    expect(beside[2]).closeTo(3 - Math.sin(0.7), 1e-6);
  });

  it('is shared out by way and by turn', () => {
    const root = new RootMotion([0]);
    root.follow(at(0, 0, 0, 0));
    const move = root.follow(at(0.2, 0.3, 0, 0));
    const none = apply(shareOfMove(move, 0, 0), [4, 5, 6]);
    expect(none.map((value) => Math.round(1e9 * value) / 1e9)).deep.equal([4, 5, 6]);
    const half = shareOfMove(move, 0.5, 0.5);
    expect(apply(half, [0, 0, 0])[0]).closeTo(0.15, 1e-9);
    // Half of a small turn, by the straight way between the two.
    expect(Math.atan2(-half.turn[2]!, half.turn[0]!)).closeTo(0.1, 1e-3);
  });

  it('is a teleport when far or far round, and not while fast', () => {
    const jump = (angle: number, x: number): boolean => {
      const root = new RootMotion([0]);
      root.follow(at(0, 0, 0, 0));
      return isTeleport(root.follow(at(angle, x, 0, 0)));
    };
    expect(jump(0, 0.17)).equal(false);
    expect(jump(0.5, 0)).equal(false);
    expect(jump(0, 0.6)).equal(true);
    expect(jump(Math.PI, 0)).equal(true);
  });

  it('counts a flattened joint as not turned', () => {
    const root = new RootMotion([0]);
    root.follow(at(0.3, 0, 0, 0));
    const flat = root.follow(Float64Array.of(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1));
    expect(flat.turn.every(Number.isFinite)).equal(true);
  });
});
