import { expect } from 'chai';
import fc from 'fast-check';
import { mirrorName, SIDE_PAIRS, type SidePair } from './mirror-name.ts';

describe('names of the other side by marks of one\u2019s own', () => {
  it('go by the first that fits, both ways, in the case of the name', () => {
    const pairs: SidePair[] = [
      ['west', 'east'],
      ['_a', '_b'],
    ];
    for (const [name, other] of [
      ['WestArm', 'EastArm'],
      ['arm EAST', 'arm WEST'],
      ['leg_a', 'leg_b'],
      ['leg.B.01', 'leg.A.01'],
      ['leg_l', null],
      ['beast_a', 'bwest_a'],
    ] as const)
      expect(mirrorName(name, pairs), name).equal(other);
  });

  it('may hold anything that a name may, without being taken for a pattern', () => {
    expect(mirrorName('arm(1)', [['(1)', '(2)']])).equal('arm(2)');
    expect(mirrorName('arm.*', [['.*', '+']])).equal('arm+');
    expect(mirrorName('armx', [['.', '!']])).equal(null);
  });

  it('lead back to the name, whatever stands around the mark', () => {
    const plain = fc.stringMatching(/^[bcd]{1,6}$/);
    fc.assert(
      fc.property(
        plain,
        plain,
        fc.constantFrom('_l', '_R', '.L', ' r', '-l'),
        fc.boolean(),
        (stem, tail, mark, isInside) => {
          const name = isInside ? `${stem}${mark}_${tail}` : `${stem}${mark}`;
          const other = mirrorName(name, SIDE_PAIRS);
          expect(other).not.equal(null);
          expect(other).not.equal(name);
          expect(other!.length).equal(name.length);
          expect(mirrorName(other!, SIDE_PAIRS)).equal(name);
        },
      ),
    );
  });

  it('are none of a name in which a letter only looks like a mark', () => {
    for (const name of ['collar', 'shoulder', 'pelvis', 'barrel', 'xl5', 'heel'])
      expect(mirrorName(name), name).equal(null);
  });
});
