import { expect } from 'chai';
import { createDocument, listGarments } from '../../core/document/index.ts';
import { createSkirt, createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { PrepareLoop } from '../workers/prepare-loop.ts';
import { Health, listMeshes } from './health.ts';
import { SESSION_START, type Session } from './session.ts';
import { Store } from './store.ts';
import { openWorkshop, until } from './test-preparation.ts';
import { installLocalWorkers } from './test-worker.ts';

const SKIRT = { sectionIndex: 1, sectionName: 'Skirt' };

/** The wardrobe with one side of the skirt's seam moved by a hair. */
function openTorn() {
  const skirt = createSkirt();
  for (let v = 40; v < skirt.positions.length / 3; v += 41)
    skirt.positions[3 * v] = skirt.positions[3 * v]! + 0.0006;
  const shop = openWorkshop(createWardrobe(skirt), createDocument());
  const garmentId = shop.editor.addGarment(1);
  const session = new Store<Session>({ ...SESSION_START });
  const health = new Health(shop.editor, session, shop.client);
  return { ...shop, session, health, garmentId };
}

describe('the health of the selected garment', () => {
  let restore: () => void;

  before(() => {
    restore = installLocalWorkers(() => new PrepareLoop());
  });
  after(() => restore());

  it('is checked when a garment is selected, and not before', async () => {
    const { session, health, garmentId } = openTorn();
    expect(health.get(SKIRT)).equal(null);
    session.set({ garmentId });
    expect(health.store.state.isChecking).equal(true);
    await until(() => health.get(SKIRT) !== null);
    expect(health.get(SKIRT)!.map(({ kind }) => kind)).include('unweldedSeam');
    expect(health.store.state.isChecking).equal(false);
  });

  it('is unknown from the moment a step changes the mesh until it was checked anew', async () => {
    const { session, health, preparing, garmentId } = openTorn();
    session.set({ garmentId });
    await until(() => health.get(SKIRT) !== null);
    await preparing.addStep('Join', SKIRT, { kind: 'weld' });
    expect(health.get(SKIRT)).equal(null);
    await until(() => health.get(SKIRT) !== null);
    expect(health.get(SKIRT)!.map(({ kind }) => kind)).not.include('unweldedSeam');
  });

  it('is checked anew with limits that were changed, which are undone like anything else', async () => {
    const { editor, session, health, garmentId } = openTorn();
    session.set({ garmentId });
    await until(() => health.get(SKIRT) !== null);
    const hasSlivers = (): boolean => health.get(SKIRT)!.some(({ kind }) => kind === 'sliver');
    expect(hasSlivers()).equal(false);
    editor.updateScene('Set a limit', { healthLimits: { sliverAngle: 60 } });
    expect(health.get(SKIRT)).equal(null);
    await until(() => health.get(SKIRT) !== null);
    expect(hasSlivers()).equal(true);
    editor.undo();
    await until(() => health.get(SKIRT) !== null && !hasSlivers());
  });

  it('is checked of the sim mesh and of what is drawn in its place', async () => {
    const { editor, session, health, preparing, garmentId } = openTorn();
    session.set({ garmentId });
    await preparing.addStep('Join', SKIRT, { kind: 'weld' });
    await preparing.simMeshes.make(listGarments(editor.document)[0]!, {
      edgeLength: 0.06,
      borderDetail: 0.5,
    });
    const garment = listGarments(editor.document)[0]!;
    expect(listMeshes(garment).map(({ sectionName }) => sectionName)).deep.equal(['Skirt sim', 'Skirt']);
    await until(() => listMeshes(garment).every((name) => health.get(name) !== null));
    expect(health.get(garment)!.filter(({ severity }) => severity === 'severe')).deep.equal([]);
  });
});
