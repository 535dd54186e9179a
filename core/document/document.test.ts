import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import type { Character } from '../rig/index.ts';
import { computeBorderShare, listBodySections } from './body-sections.ts';
import { createGarment, insertGarment } from './create-garment.ts';
import { listFreeSections } from './free-sections.ts';
import {
  ALL_BODY_GROUPS,
  type AuthoredDocument,
  createDocument,
  findChannel,
  getScene,
  listBodies,
  listGarments,
  placeBodies,
  type RecordId,
} from './index.ts';

function createWardrobe() {
  const sheet = createSheet(4, 4, (u, v) => [u, v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  // A tetrahedron: it encloses a space.
  const solid = createTestCharacter(
    Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1),
    Uint32Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3),
  );
  character.sections.push(
    { ...solid.sections[0]!, name: 'body' },
    { ...character.sections[0]!, name: 'coat' },
  );
  const document = createDocument();
  let count = 0;
  const wear = (section: number): RecordId => {
    const made = createGarment(character, document, section, () => `id-${++count}` as RecordId);
    insertGarment(document, made);
    return made.garment.id;
  };
  return { character, document, wear };
}

describe('the authored document', () => {
  it('makes garments one above the other, held everywhere, with one body set between them', () => {
    const { document, wear } = createWardrobe();
    const [shirt, coat] = [wear(0), wear(2)];
    const garments = listGarments(document);
    expect(garments.map(({ id }) => id)).deep.equal([shirt, coat]);
    expect(garments.map(({ order }) => order)).deep.equal([0, 1]);
    expect(garments[0]!.bodySetId).equal(garments[1]!.bodySetId);
    expect(garments[0]!.fabricId).not.equal(garments[1]!.fabricId);
    const channel = findChannel(document, shirt)!;
    expect(document.arrays.get(channel.id)!.every((value) => value === 0)).equal(true);
    expect(channel.pointCount).equal(25);
  });

  it('counts as body what encloses a space and is not worn', () => {
    const { character, document, wear } = createWardrobe();
    expect(computeBorderShare(character.sections[1]!)).equal(0);
    expect(computeBorderShare(character.sections[0]!)).within(0.2, 0.5);
    expect(listBodySections(document, character)).deep.equal([1]);
    wear(0);
    expect(listFreeSections(document, character.sections)).deep.equal([1, 2]);
    expect(listBodySections(document, character)).deep.equal([1]);
    wear(1);
    // Nothing solid is left: the largest open piece stands for the body.
    expect(listBodySections(document, character)).deep.equal([2]);
    wear(2);
    expect(listBodySections(document, character)).deep.equal([]);
  });

  it('lists bodies of one set by joint, and nothing of another', () => {
    const { document } = createWardrobe();
    const body = (id: string, set: string, jointName: string): void => {
      const shape = { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 1, radiusB: 1 } as const;
      document.records.set(id as RecordId, {
        type: 'body',
        id: id as RecordId,
        bodySetId: set as RecordId,
        name: id,
        jointName,
        shape: { ...shape, a: [0, 0, 0], b: [0, 0, 0] },
        margin: 0,
        group: 1,
      });
    };
    body('z', 'main', 'hip');
    body('a', 'main', 'arm');
    body('m', 'main', 'hip');
    body('x', 'other', 'hip');
    body('lost', 'main', 'tail');
    const names = ['root', 'hip', 'chest', 'arm'];
    const main = 'main' as RecordId;
    const idsOf = (bodies: { id: RecordId }[]): RecordId[] => bodies.map(({ id }) => id);
    expect(idsOf(listBodies(document, main))).deep.equal(['a', 'm', 'z', 'lost']);
    expect(idsOf(listBodies(document, main, { names })).slice(1)).deep.equal(['m', 'z', 'a']);
    // One whose joint is not there is left out of a run.
    const character = { skeleton: { names } } as Character;
    const shape = { base: character, shaped: character };
    expect(
      placeBodies(document, { bodySetId: main, bodyGroups: ALL_BODY_GROUPS }, shape).map(({ node }) => node),
    ).deep.equal([1, 1, 3]);
  });

  it('always has a scene', () => {
    expect(getScene({ records: new Map() } as Pick<AuthoredDocument, 'records'>).windSpeed).equal(0);
  });
});
