import { expect } from 'chai';
import { findInnerSide } from './find-inner-side.ts';
import { createCheckedMesh } from './health/index.ts';
import { judgeSides, type SidesVerdict } from './judge-sides.ts';
import type { Surface } from './surface.ts';
import { createHand, createPieces, createSleeve, createStar, createTwoSided } from './test-ugly.ts';

function judge(
  { positions, triangles }: Surface,
  isForced = false,
): { verdict: SidesVerdict; inner: number } {
  const mesh = createCheckedMesh({ positions, triangles, uvs: null });
  const inner = findInnerSide(mesh, isForced).reduce((sum, one) => sum + one, 0);
  return { verdict: judgeSides(mesh).verdict, inner: inner / mesh.pointCount };
}

describe('the sides of a mesh', () => {
  it('are two where the way from one to the other leads over a rim, or there is none', () => {
    for (const thickness of [0.01, 0.03, 0.05]) {
      const { verdict, inner } = judge(createTwoSided(10, 10, thickness, true));
      expect(verdict).equal('two');
      expect(inner).within(0.45, 0.55);
    }
    expect(judge(createTwoSided(10, 10, 0.03, false))).deep.include({ verdict: 'two', inner: 0.5 });
  });

  it('are two of narrow strips as well, where every other point is on the rim', () => {
    for (const columns of [2, 3, 4]) {
      const { positions, triangles } = createTwoSided(12, columns, 0.01, true);
      expect(judge({ positions, triangles }).verdict, `${columns}`).equal('two');
    }
  });

  it('are one of tubes, limbs, hands and stars; with so few sides that all is rim, nothing is taken away either', () => {
    for (const sides of [8, 12]) {
      expect(judge(createSleeve(sides, 0.05, 0.4)), `${sides}`).eql({ verdict: 'one', inner: 0 });
      expect(judge(createSleeve(sides, 0.05, 0.4, { rings: 3, isClosed: true })).inner).equal(0);
    }
    for (const sides of [3, 4, 5]) {
      expect(judge(createSleeve(sides, 0.05, 0.4)), `${sides}`).eql({ verdict: 'unsure', inner: 0 });
      expect(judge(createSleeve(sides, 0.05, 0.4, { rings: 3, isClosed: true })).inner).equal(0);
    }
    expect(judge(createHand(0.018)).inner).equal(0);
    expect(judge(createStar(5, 0.3, 0.06))).eql({ verdict: 'one', inner: 0 });
  });

  it('are not certain of cloth about as thick as its edges are long: nothing is taken away unless it is asked for', () => {
    const thick = createTwoSided(10, 10, 0.1, true);
    expect(judge(thick)).eql({ verdict: 'unsure', inner: 0 });
    expect(judge(thick, true).inner).within(0.35, 0.6);
  });

  it('are judged piece by piece', () => {
    const mixed = createPieces(
      [createTwoSided(10, 10, 0.03, true), createSleeve(8, 0.05, 0.4, { rings: 6 })],
      2,
    );
    const { verdict, inner } = judge(mixed);
    expect(verdict).equal('two');
    // Of 242 points in the sheets and 56 in the sleeve.
    expect(inner).within(115 / 298, 125 / 298);
  });
});
