import { expect } from 'chai';
import { toPrintable, toPrintableName } from './printable.ts';

describe('what goes to a terminal', () => {
  it('has no control characters but line breaks, and none that turn the direction of writing', () => {
    expect(toPrintable('a\u001b[31mred\u0007\r')).equal('a\\u{1b}[31mred\\u{7}\\u{d}');
    expect(toPrintable('one\ntwo\u202egnp.')).equal('one\ntwo\\u{202e}gnp.');
    expect(toPrintable('Mütze 帽子 👒')).equal('Mütze 帽子 👒');
  });

  it('has names on one line, cut where they are endless', () => {
    expect(toPrintableName('a\nb')).equal('a b');
    expect(toPrintableName('x'.repeat(5000)).length).equal(120);
    expect(toPrintableName('x'.repeat(120))).equal('x'.repeat(120));
  });
});
