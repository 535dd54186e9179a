import { expect } from 'chai';
import fc from 'fast-check';
import { type Box, placeBeside } from './place-beside.ts';

describe('the card of the tour', () => {
  const card = { width: 268, height: 170 };

  it('is always whole on the screen, and off what it speaks of where there is room', () => {
    fc.assert(
      fc.property(
        fc.record({
          width: fc.integer({ min: 800, max: 2560 }),
          height: fc.integer({ min: 600, max: 1440 }),
        }),
        fc.record({
          left: fc.double({ min: 0, max: 1, noNaN: true }),
          top: fc.double({ min: 0, max: 1, noNaN: true }),
          width: fc.integer({ min: 10, max: 300 }),
          height: fc.integer({ min: 10, max: 200 }),
        }),
        (screen, share) => {
          const box: Box = {
            ...share,
            left: share.left * (screen.width - share.width),
            top: share.top * (screen.height - share.height),
          };
          const { left, top } = placeBeside(box, card, screen);
          expect(left).within(0, screen.width - card.width);
          expect(top).within(0, screen.height - card.height);
          const overlaps =
            left < box.left + box.width &&
            box.left < left + card.width &&
            top < box.top + box.height &&
            box.top < top + card.height;
          expect(overlaps).equal(false);
        },
      ),
    );
  });

  it('stands by itself where nothing is pointed at', () => {
    const { left, top } = placeBeside(null, card, { width: 1280, height: 800 });
    expect([left, top]).deep.equal([506, 450]);
  });
});
