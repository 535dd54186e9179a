import { expect } from 'chai';
import { createRigidCharacter } from '../../core/rig/index.ts';
import { CardOrder } from './card-order.ts';

/** Squares across z, one behind another, each of two triangles. @param places - Their z. */
function createCards(places: readonly number[]) {
  const positions = places.flatMap((z) => [-1, -1, z, 1, -1, z, 1, 1, z, -1, 1, z]);
  const triangles = places.flatMap((_, card) => [0, 1, 2, 0, 2, 3].map((corner) => 4 * card + corner));
  const { sections } = createRigidCharacter(
    'cards',
    Float32Array.from(positions),
    Uint32Array.from(triangles),
  );
  return sections[0]!;
}

describe('cards that let what is behind them through', () => {
  const still = Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  const section = createCards([0, 2, 1]);
  const cardsOf = (index: Uint32Array): number[] => [0, 6, 12].map((at) => Math.floor(index[at]! / 4));

  it('are drawn from the farthest to the nearest, wherever the eye is', () => {
    const index = section.triangles.slice();
    const order = new CardOrder(section);
    expect(order.sort(index, still, [0, 0, 10])).equal(true);
    expect(cardsOf(index)).deep.equal([0, 2, 1]);
    expect(order.sort(index, still, [0.1, 0, 9])).equal(false);
    expect(order.sort(index, still, [0, 0, -10])).equal(true);
    expect(cardsOf(index)).deep.equal([1, 2, 0]);
    expect([...index].sort((p, q) => p - q)).deep.equal([...section.triangles].sort((p, q) => p - q));
  });

  it('are where their joints have them', () => {
    const index = section.triangles.slice();
    const order = new CardOrder(section);
    // Turned half round about y.
    const turned = Float32Array.of(-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1);
    order.sort(index, turned, [0, 0, 10]);
    expect(cardsOf(index)).deep.equal([1, 2, 0]);
  });
});
