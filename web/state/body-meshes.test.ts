import { expect } from 'chai';
import {
  createDocument,
  listBodies,
  listRecords,
  listSteps,
  type RecordId,
} from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { findSection } from '../../core/rig/index.ts';
import { openWorkshop, until, useWorkshop, type Workshop } from './test-preparation.ts';

describe('body meshes on the page', () => {
  const read = useWorkshop(() => openWorkshop(createWardrobe(), createDocument()));
  let shop: Workshop;
  let bodySetId: RecordId;
  beforeEach(() => {
    shop = read();
    shop.editor.addGarment(1);
    bodySetId = listRecords(shop.editor.document, 'bodySet')[0]!.id;
  });

  const findMesh = () => listRecords(shop.editor.document, 'bodyMesh')[0];
  const countVertices = (): number => {
    const mesh = findMesh();
    return mesh ? shop.editor.character.sections[mesh.sectionIndex]!.positions.length / 3 : 0;
  };
  const make = (vertexCount = 100): Promise<RecordId> =>
    shop.preparing.bodyMeshes.make(bodySetId, { vertexCount, without: [] });

  it('are made over the skin, with the step, as one step to take back', async () => {
    const { editor, preparing } = shop;
    expect(preparing.bodyMeshes.listSkin()).deep.equal({
      over: [{ sectionIndex: 0, sectionName: 'Leg' }],
      left: [],
    });
    const id = await make();
    expect(findMesh()).include({ id, bodySetId, sectionName: 'Body mesh', sectionIndex: 2 });
    expect(countVertices()).within(98, 100);
    const { vertices, deviation } = await preparing.client.measureBodyMesh({
      section: { sectionIndex: 2, sectionName: 'Body mesh' },
      stepId: findMesh()!.stepId,
    });
    expect(vertices).equal(countVertices());
    expect(deviation!.most).within(0.0005, 0.01);
    expect(deviation!.mean).below(deviation!.p95);
    expect(editor.undo()).equal('Add a body mesh');
    await until(() => editor.character.sections.length === 2);
    expect([findMesh(), listSteps(editor.document)]).deep.equal([undefined, []]);
  });

  it('are made anew with other settings, and keep margin and group', async () => {
    const { editor, preparing } = shop;
    await make();
    editor.updateRecord('Set margin', findMesh()!, { margin: 0.003, group: 2 });
    await preparing.bodyMeshes.remake(findMesh()!, { vertexCount: 60, without: ['knee'] });
    expect(countVertices()).within(58, 60);
    expect(findMesh()).include({ margin: 0.003, group: 2 });
    expect(listSteps(editor.document)).length(1);
  });

  it('go with their step, unless another set has the mesh too', async () => {
    const { editor, preparing } = shop;
    await make();
    const mesh = findMesh()!;
    const twin = { ...mesh, id: 'twin' as RecordId };
    editor.changeRecords('Twin', [[twin.id, twin]]);
    await preparing.bodyMeshes.remove(twin);
    expect(listSteps(editor.document)).length(1);
    expect(editor.character.sections).length(3);
    await preparing.bodyMeshes.remove(mesh);
    expect([findMesh(), listSteps(editor.document)]).deep.equal([undefined, []]);
    expect(editor.character.sections).length(2);
    expect(editor.undo()).equal(`Remove ${mesh.name}`);
    await until(() => editor.character.sections.length === 3);
  });

  it('keep their names and sections when another one goes', async () => {
    const { editor, preparing } = shop;
    await make(100);
    const second = await make(60);
    const read = () => listRecords(editor.document, 'bodyMesh').find(({ id }) => id === second)!;
    expect(read().sectionName).equal('Body mesh 2');
    const first = listRecords(editor.document, 'bodyMesh').find(({ id }) => id !== second)!;
    await preparing.bodyMeshes.remove(first);
    const section = editor.character.sections[findSection(editor.character, read())];
    expect(section!.name).equal('Body mesh 2');
    expect(section!.positions.length / 3).within(58, 60);
  });

  it('go when their step is taken out', async () => {
    const { editor, preparing } = shop;
    await make();
    await preparing.removeStep(listSteps(editor.document)[0]!);
    expect([findMesh(), listSteps(editor.document)]).deep.equal([undefined, []]);
  });

  it('become capsules in the set that they were in, and come back by one undo', async () => {
    const { editor, preparing } = shop;
    await make(300);
    const ids = await preparing.bodyMeshes.turnIntoCapsules(findMesh()!);
    expect(listBodies(editor.document, bodySetId).map(({ id }) => id)).have.members(ids);
    expect(ids).length(2);
    expect(findMesh()).equal(undefined);
    editor.undo();
    await until(() => editor.character.sections.length === 3);
    expect(listBodies(editor.document, bodySetId)).deep.equal([]);
  });

  it('tell why they cannot be made, and leave everything as it was', async () => {
    const { editor, preparing } = shop;
    const { revision } = editor;
    const error: unknown = await preparing.bodyMeshes
      .make(bodySetId, { vertexCount: 100, without: ['hip', 'knee'] })
      .catch((reason: unknown) => reason);
    expect((error as Error).message).contain('all of the skin is left out');
    expect(editor.revision).equal(revision);
  });
});
