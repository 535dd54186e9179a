import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { createRandom } from '../math/index.ts';
import type { Section } from './character.ts';
import { hashSection } from './hash-section.ts';

const create = (): Section => {
  const sheet = createSheet(9, 7, (u, v) => [u, v, 0.1 * u * v]);
  return createTestCharacter(sheet.positions, sheet.triangles).sections[0]!;
};

describe('the content of a section', () => {
  it('has one name, whoever holds it', () => {
    expect(hashSection(create())).equal(hashSection(create()));
    expect(hashSection(create())).match(/^[0-9a-f]{32}$/);
    // In other memory, at an odd place of a block.
    const section = create();
    const block = new Uint8Array(section.jointIndices.byteLength + 2);
    const moved = new Uint16Array(block.buffer, 2, section.jointIndices.length);
    moved.set(section.jointIndices);
    expect(hashSection({ ...section, jointIndices: moved })).equal(hashSection(create()));
  });

  it('has another name when any number, flag or order is another', () => {
    const known = new Map([[hashSection(create()), 'as it was']]);
    const expectNew = (what: string, section: Section): void => {
      const hash = hashSection(section);
      expect(known.get(hash), `${what} looks like ${known.get(hash)}`).equal(undefined);
      known.set(hash, what);
    };
    const random = createRandom(5);
    for (const key of ['positions', 'normals', 'jointWeights', 'triangles', 'jointIndices'] as const) {
      for (let round = 0; round < 60; round++) {
        const section = create();
        const array = section[key].slice();
        const at = Math.floor(random() * array.length);
        // The smallest change there is.
        const bytes = new Uint8Array(array.buffer, at * array.BYTES_PER_ELEMENT, 1);
        const bit = 1 << (round % 8);
        bytes[0]! ^= bit;
        const what = `${key} ${at} bit ${bit}`;
        if (![...known.values()].includes(what)) expectNew(what, { ...section, [key]: array });
      }
    }
    expectNew('name', { ...create(), name: 'another' });
    expectNew('flag', { ...create(), isSimMesh: true });
    const { positions, normals } = create();
    expectNew('swapped', { ...create(), positions: normals, normals: positions });
    const shorter = create();
    expectNew('shorter', { ...shorter, triangles: shorter.triangles.slice(0, -3) });
    const zeros = create();
    expectNew('zeros', { ...zeros, positions: new Float32Array(zeros.positions.length) });
    expectNew('more zeros', { ...zeros, positions: new Float32Array(zeros.positions.length + 3) });
  });
});
