import { MessageChannel } from 'node:worker_threads';
import { expect } from 'chai';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import type { Character } from './character.ts';
import { hashSection } from './hash-section.ts';
import { adoptSections, type SharedSection, shareSections } from './share-sections.ts';

/** Through a real channel, as messages to a worker go. */
async function send(shared: readonly SharedSection[]): Promise<SharedSection[]> {
  const { port1, port2 } = new MessageChannel();
  const arrived = new Promise<SharedSection[]>((resolve) => port2.once('message', resolve));
  port1.postMessage(shared);
  const received = await arrived;
  port1.close();
  return received;
}

const [LEG, SKIRT] = [0, 1];

describe('sections that cross to another thread', () => {
  const withSkirt = (character: Character, scale: number): Character => {
    const skirt = character.sections[SKIRT]!;
    const changed = { ...skirt, positions: skirt.positions.map((value) => scale * value) };
    return { ...character, sections: [character.sections[LEG]!, changed] };
  };

  it('stand in the same memory on both sides, arrays and morph targets', async () => {
    const character = createWardrobe();
    const leg = character.sections[LEG]!;
    leg.morphs = [{ name: 'broad', positions: leg.positions.slice(), normals: null }];
    const shared = shareSections(character);
    const received = await send(shared);
    const sent = shared[LEG]!.section;
    const there = received[LEG]!.section;
    expect(there).deep.equal(leg);
    // Written on one side, seen on the other: nobody does so, but it tells one memory from two.
    sent.positions[7] = 42;
    sent.morphs[0]!.positions[3] = 43;
    expect([there.positions[7], there.morphs[0]!.positions[3]]).deep.equal([42, 43]);
    expect(leg.positions[7]).not.equal(42);
  });

  it('are copied once, and again only when they change', () => {
    const character = createWardrobe();
    const first = shareSections(character);
    const again = shareSections({ sections: [...character.sections] });
    expect(again[LEG]!.section).equal(first[LEG]!.section);
    const changed = shareSections(withSkirt(character, 1.1));
    expect(changed[LEG]!.section).equal(first[LEG]!.section);
    expect(changed[SKIRT]!.section).not.equal(first[SKIRT]!.section);
    expect(changed[SKIRT]!.hash).not.equal(first[SKIRT]!.hash);
    // What is shared already is taken as it is.
    expect(shareSections({ sections: [first[LEG]!.section] })[0]!.section).equal(first[LEG]!.section);
  });

  it('stay the objects that they are where their content is known, and are new where it is not', async () => {
    const character = createWardrobe();
    const received = await send(shareSections(withSkirt(character, 1.1)));
    const adopted = adoptSections(character, received);
    expect(adopted.sections[LEG]).equal(character.sections[LEG]);
    expect(adopted.sections[SKIRT]).not.equal(character.sections[SKIRT]);
    expect(hashSection(adopted.sections[SKIRT]!)).equal(received[SKIRT]!.hash);
    const back = adoptSections(adopted, await send(shareSections(character)));
    expect(back.sections).deep.equal(character.sections);
    expect(back.sections[LEG]).equal(character.sections[LEG]);
    expect(back.skeleton).equal(character.skeleton);
  });
});
