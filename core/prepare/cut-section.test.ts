import { expect } from 'chai';
import { createDocument } from '../document/index.ts';
import { createSectionMesh, packPicked } from '../steps/index.ts';
import { prepareCharacter } from './index.ts';
import { addStep, createSkirt, createWardrobe } from './test-wardrobe.ts';

describe('cutting a section', () => {
  const source = createWardrobe();
  const mesh = createSectionMesh(source, 1);
  /** The lower part of the skirt, below 30 cm. */
  const isLow = Uint8Array.from({ length: mesh.faces.length / 3 }, (_, f) =>
    [0, 1, 2].every((k) => mesh.pointPositions[3 * mesh.faces[3 * f + k]! + 1]! < -0.299) ? 1 : 0,
  );
  const cut = (character = source, packed = packPicked(source, 1, isLow)) => {
    const document = createDocument();
    const id = addStep(document, 'Skirt', { kind: 'cut', name: 'Flounce' });
    document.arrays.set(id, packed);
    return prepareCharacter(character, document);
  };

  it('makes the picked faces a section, and leaves the others; both have the line between them', () => {
    const { character, problems } = cut();
    expect(problems).deep.equal([]);
    const [, rest, part] = character.sections;
    expect(part!.name).equal('Flounce');
    expect(rest!.triangles.length + part!.triangles.length).equal(source.sections[1]!.triangles.length);
    const [above, below] = [createSectionMesh(character, 1), createSectionMesh(character, 2)];
    expect(Math.min(...above.pointPositions.filter((_, i) => i % 3 === 1))).closeTo(-0.3, 1e-5);
    expect(Math.max(...below.pointPositions.filter((_, i) => i % 3 === 1))).closeTo(-0.3, 1e-5);
    expect(above.pointCount + below.pointCount).equal(mesh.pointCount + 40);
    expect(part!.uvs!.length / 2).equal(part!.positions.length / 3);
  });

  it('finds the same part in a new version with other triangles', () => {
    const { character } = cut(createWardrobe(createSkirt(64, 50)));
    const below = createSectionMesh(character, 2);
    const top = Math.max(...below.pointPositions.filter((_, i) => i % 3 === 1));
    expect(top).closeTo(-0.3, 0.026);
    expect(below.faces.length / 3).closeTo(64 * 50, 64 * 4);
  });

  it('is left out, and told, when it would take nothing or everything', () => {
    const none = new Uint8Array(isLow.length);
    expect(cut(source, packPicked(source, 1, none)).problems[0]!.reason).equal(
      'the cut takes nothing of "Skirt"',
    );
    expect(cut(source, packPicked(source, 1, none.fill(1))).problems[0]!.reason).equal(
      'the cut takes all of "Skirt"',
    );
    expect(cut(source, new Float32Array(0)).problems[0]!.reason).contain('nothing');
  });
});
