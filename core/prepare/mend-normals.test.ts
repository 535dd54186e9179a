import { expect } from 'chai';
import { createDocument } from '../document/index.ts';
import { checkSection, prepareCharacter } from './index.ts';
import { addStep, createWardrobe } from './test-wardrobe.ts';

const SKIRT = 1;

describe('mending normals', () => {
  it('gives those that point nowhere the direction of the surface, and the others length one', () => {
    const source = createWardrobe();
    const skirt = source.sections[SKIRT]!;
    const before = skirt.normals.slice();
    skirt.normals.fill(0, 30, 33);
    skirt.normals.fill(Number.NaN, 60, 63);
    for (let i = 90; i < 93; i++) skirt.normals[i] = 2.5 * skirt.normals[i]!;
    expect(checkSection(source, SKIRT).find(({ kind }) => kind === 'badNormal')!.count).equal(3);
    const authored = createDocument();
    addStep(authored, 'Skirt', { kind: 'mendNormals' });
    const { character, problems } = prepareCharacter(source, authored);
    expect(problems).deep.equal([]);
    expect(checkSection(character, SKIRT).map(({ kind }) => kind)).not.include('badNormal');
    const mended = character.sections[SKIRT]!.normals;
    for (let v = 0; v < before.length / 3; v++) {
      const cosine = [0, 1, 2].reduce((sum, k) => sum + before[3 * v + k]! * mended[3 * v + k]!, 0);
      expect(cosine, `vertex ${v}`).above(0.99);
      if (![10, 20, 30].includes(v))
        expect([...mended.subarray(3 * v, 3 * v + 3)]).deep.equal([...before.subarray(3 * v, 3 * v + 3)]);
    }
  });
});
