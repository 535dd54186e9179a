import { expect } from 'chai';
import { RootMotion, toMatrix } from './root-motion.ts';

/** World matrix of a turn about the vertical and a place. */
function at(angle: number, x: number, y: number, z: number): Float64Array {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return Float64Array.of(c, 0, -s, 0, 0, 1, 0, 0, s, 0, c, 0, x, y, z, 1);
}

describe('the motion of the root', () => {
  it('is none at first, and then what the matrices say', () => {
    const root = new RootMotion([2, 0, 1]);
    const first = root.follow(at(0.4, 1, 2, 3));
    expect(first.from).deep.equal(first.to);
    expect(first.turn[3]).closeTo(1, 1e-12);
    const move = root.follow(at(0.7, 1.1, 2, 3));
    expect(move.turn[1]).closeTo(Math.sin(0.15), 1e-12);
    expect(move.turn[3]).closeTo(Math.cos(0.15), 1e-12);
    expect(move.from).deep.equal([1, 2, 3]);
    expect(move.to[0] - move.from[0]).closeTo(0.1, 1e-12);
  });

  it('is exact for turns up to half a circle, about any axis', () => {
    for (const axis of [
      [1, 0, 0],
      [0, 0, 1],
      [0.48, -0.6, 0.64],
    ])
      for (const angle of [1e-6, 0.3, 2, 3.1, Math.PI]) {
        const half = axis.map((value) => value * Math.sin(angle / 2));
        const wanted = toMatrix([half[0]!, half[1]!, half[2]!, Math.cos(angle / 2)]);
        const root = new RootMotion([0]);
        root.follow(at(0, 0, 0, 0));
        const [a, b, c] = [0, 3, 6].map((k) => wanted.slice(k, k + 3));
        const { turn } = root.follow(Float64Array.of(...a!, 0, ...b!, 0, ...c!, 0, 0, 0, 0, 1));
        for (const [k, value] of toMatrix(turn).entries()) expect(value).closeTo(wanted[k]!, 1e-9);
        expect(turn[3]).at.least(0);
      }
  });

  it('counts a flattened joint as not turned', () => {
    const root = new RootMotion([0]);
    root.follow(at(0.3, 0, 0, 0));
    const flat = root.follow(Float64Array.of(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1));
    expect(flat.turn.every(Number.isFinite)).equal(true);
  });
});
