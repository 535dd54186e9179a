import { expect } from 'chai';
import { createDocument, findChannel, listGarments, listSteps } from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { createSectionMesh, describeAct, type StepAct } from '../../core/steps/index.ts';
import { addMap } from './maps.ts';
import { openWorkshop, until, useWorkshop, type Workshop } from './test-preparation.ts';
import { LocalWorker } from './test-worker.ts';
import { Cancelled } from './worker-calls.ts';

const SKIRT = { sectionIndex: 1, sectionName: 'Skirt' };
const EVEN: StepAct = { kind: 'evenOut', edgeLength: 0.03 };

describe('preparing a character on the page', () => {
  const read = useWorkshop(() => openWorkshop(createWardrobe(), createDocument()));
  let shop: Workshop;
  beforeEach(() => {
    shop = read();
  });

  const pointsOf = (index: number): number =>
    weldPoints(shop.editor.character.sections[index]!.positions).pointCount;
  const fillMap = (value: number): Float32Array => {
    const garment = listGarments(shop.editor.document)[0]!;
    const channel = findChannel(shop.editor.document, garment.id)!;
    const values = shop.editor.document.arrays.get(channel.id)!;
    shop.editor.paint('fill', channel.id, {
      indices: Uint32Array.from(values.keys()),
      before: values.slice(),
      after: new Float32Array(values.length).fill(value),
    });
    return values;
  };
  const readValues = (): Float32Array => {
    const garment = listGarments(shop.editor.document)[0]!;
    return shop.editor.document.arrays.get(findChannel(shop.editor.document, garment.id)!.id)!;
  };

  it('adds a step with the character it makes and the values it carries, as one step to take back', async () => {
    const { editor, preparing, followed } = shop;
    editor.addGarment(1);
    fillMap(0.25);
    const before = pointsOf(1);
    await preparing.addStep('Even out', SKIRT, EVEN);
    expect(listSteps(editor.document).map(({ act }) => act)).deep.equal([EVEN]);
    const after = pointsOf(1);
    expect(after).not.equal(before);
    expect(readValues().length).equal(after);
    for (const value of readValues()) expect(value).closeTo(0.25, 1e-5);
    expect(followed.at(-1)!.hasCharacter).equal(true);
    expect(editor.undo()).equal('Even out');
    await until(() => pointsOf(1) === before);
    expect(readValues().length).equal(before);
    expect(editor.redo()).equal('Even out');
    await until(() => pointsOf(1) === after);
  });

  it('tells why a step cannot be done, and leaves everything as it was', async () => {
    const { editor, preparing, client } = shop;
    const { revision } = editor;
    const act: StepAct = { kind: 'restInPose', clipName: 'somersault' };
    const error: unknown = await preparing.addStep('Rest', SKIRT, act).catch((reason: unknown) => reason);
    expect((error as Error).message).equal('there is no clip "somersault"');
    expect(editor.revision).equal(revision);
    expect(client.store.state.task).equal(null);
  });

  it('tells what is wrong with what a step made, until it is taken back', async () => {
    const { editor, preparing, client } = shop;
    await preparing.addStep('Even out', SKIRT, { kind: 'evenOut', edgeLength: 1.5 });
    const [step] = listSteps(editor.document);
    expect(client.store.state.faults.map(({ stepId }) => stepId)).deep.equal([step!.id]);
    editor.undo();
    await until(() => client.store.state.faults.length === 0);
  });

  it('does a step once more when something was painted meanwhile', async () => {
    const { editor, preparing } = shop;
    editor.addGarment(1);
    const adding = preparing.addStep('Even out', SKIRT, EVEN);
    fillMap(0.4);
    await adding;
    expect(listSteps(editor.document)).length(1);
    for (const value of readValues()) expect(value).closeTo(0.4, 1e-5);
  });

  it('is cancelled at once, with nothing changed, and works again afterwards', async () => {
    const { preparing, client, editor } = shop;
    const made = LocalWorker.made;
    const adding = preparing.addStep('Even out', SKIRT, EVEN).catch((reason: unknown) => reason);
    expect(client.store.state.task).equal('Even out');
    client.cancel();
    expect(await adding).instanceOf(Cancelled);
    expect(listSteps(editor.document)).deep.equal([]);
    await preparing.addStep('Even out', SKIRT, EVEN);
    expect(listSteps(editor.document)).length(1);
    expect(LocalWorker.made).equal(made + 2);
  });

  it('answers what was asked beside a task that is cancelled', async () => {
    const { preparing, client } = shop;
    const request = { section: SKIRT, renders: [], clip: null, edgeLength: null, over: [SKIRT] };
    const adding = preparing.addStep('Even out', SKIRT, EVEN).catch((reason: unknown) => reason);
    const asked = [client.measure({ ...request, sides: 'judged' }), client.check(SKIRT)] as const;
    client.cancel();
    expect(await adding).instanceOf(Cancelled);
    const [figures, findings] = await Promise.all(asked);
    expect(figures.spacing).above(0);
    expect(findings).an('array');
    const late = client.check(SKIRT).catch((reason: unknown) => reason);
    client.dispose();
    expect(await late).instanceOf(Cancelled);
  });

  it('simulates on a built mesh, a card or another section, and on what is drawn again', async () => {
    const { editor, preparing } = shop;
    editor.addGarment(1);
    const garment = () => listGarments(editor.document)[0]!;
    fillMap(0.3);
    await preparing.simMeshes.make(garment(), { edgeLength: 0.06, borderDetail: 0.5 });
    expect(garment()).deep.include({ sectionName: 'Skirt sim', renders: [SKIRT] });
    expect(editor.document.arrays.has(listSteps(editor.document)[0]!.id)).equal(true);
    const coarse = readValues().length;
    await preparing.simMeshes.make(garment(), { edgeLength: 0.04, borderDetail: 0.5 });
    expect(listSteps(editor.document)).length(1);
    expect(readValues().length).above(1.5 * coarse);
    await preparing.simMeshes.drop(garment());
    expect(garment()).deep.include({ ...SKIRT, renders: [] });
    expect(readValues().length).equal(pointsOf(1));

    await preparing.simMeshes.makeCard(garment(), 2);
    expect(readValues().length).equal(6);
    expect(describeAct(preparing.simMeshes.findStep(garment())!.act)).equal('card of 4 triangles');
    await preparing.removeStep(preparing.simMeshes.findStep(garment())!);
    expect(garment().renders).deep.equal([]);

    await preparing.simMeshes.simulateOn(garment(), { sectionIndex: 0, sectionName: 'Leg' });
    expect(garment()).deep.include({ sectionName: 'Leg', renders: [SKIRT] });
    expect(editor.character.sections[0]!.isSimMesh).equal(true);
    await preparing.simMeshes.drop(garment());
    expect(editor.character.sections[0]!.isSimMesh).not.equal(true);
    expect(garment()).deep.include({ ...SKIRT, renders: [] });
  });

  it('measures a built mesh against what it was made over, and which sides that has', async () => {
    const { editor, preparing, client } = shop;
    editor.addGarment(1);
    const garment = () => listGarments(editor.document)[0]!;
    const measure = (edgeLength: number | null, sides: 'judged' | 'both' = 'judged') => {
      const { sectionIndex, sectionName, renders } = garment();
      const own = { sectionIndex, sectionName };
      return client.measure({
        section: own,
        renders,
        clip: null,
        edgeLength,
        over: [renders[0] ?? own],
        sides,
      });
    };
    expect(await measure(null)).deep.include({ comparison: null, faults: [], verdict: 'one' });
    await preparing.simMeshes.make(garment(), { edgeLength: 0.05, borderDetail: 0.5 });
    const fine = await measure(0.05);
    expect(fine.faults).eql([]);
    expect(fine.comparison).deep.include({ turned: 0, pieces: { made: 1, source: 1 } });
    await preparing.simMeshes.make(garment(), { edgeLength: 0.8, borderDetail: 0 });
    expect((await measure(0.8)).faults.join(' ')).match(/% less than the source/);
    await preparing.simMeshes.drop(garment());
    await preparing.thicken(garment(), 0.004, 'square');
    expect((await measure(null)).verdict).equal('two');
    await preparing.simMeshes.make(garment(), { edgeLength: 0.05, borderDetail: 0.5, sides: 'both' });
    expect(preparing.simMeshes.findStep(garment())!.act).include({ sides: 'both' });
    // Both sides are there, and compared with both.
    const both = await measure(0.05, 'both');
    expect(both.comparison!.area.made / fine.comparison!.area.made).within(1.9, 2.1);
    expect(both.faults).eql([]);
  });

  it('makes an inside, and lets it ride', async () => {
    const { editor, preparing } = shop;
    editor.addGarment(1);
    const before = pointsOf(1);
    await preparing.thicken(listGarments(editor.document)[0]!, 0.004, 'square');
    expect(listGarments(editor.document)[0]!.lining).equal('inside');
    expect(pointsOf(1)).equal(2 * before);
    editor.undo();
    expect(listGarments(editor.document)[0]!.lining).equal('none');
    await until(() => pointsOf(1) === before);
  });

  it('makes an inside by maps, and makes it anew in the same step', async () => {
    const { editor, preparing } = shop;
    editor.addGarment(1);
    const garment = () => listGarments(editor.document)[0]!;
    const before = pointsOf(1);
    await preparing.thicken(garment(), 0.004, 'square');
    const plain = preparing.findInside(garment())!;
    expect(plain.act).deep.equal({ kind: 'thicken', thickness: 0.004, rim: 'square' });
    const measure = (): number => {
      const { pointPositions: p } = createSectionMesh(editor.character, 1);
      return Math.hypot(...[0, 1, 2].map((k) => p[k]! - p[3 * before + k]!));
    };
    expect(measure()).closeTo(0.004, 1e-5);
    addMap(editor, garment(), 'thickness', pointsOf(1), new Float32Array(pointsOf(1)).fill(0.009));
    await preparing.thicken(garment(), 0.004, 'square');
    expect(listSteps(editor.document)).length(1);
    expect(preparing.findInside(garment())).deep.include({
      id: plain.id,
      act: { ...plain.act, byMaps: true },
    });
    expect(measure()).closeTo(0.009, 1e-5);
    expect(pointsOf(1)).equal(2 * before);
    editor.undo();
    await until(() => Math.abs(measure() - 0.004) < 1e-5);
    expect(garment().lining).equal('inside');
  });

  describe('when the steps cannot be replayed', () => {
    const addEven = async (): Promise<number> => {
      shop.editor.addGarment(1);
      await shop.preparing.addStep('Even out', SKIRT, EVEN);
      return pointsOf(1);
    };
    const failReplays = (times: number): void => {
      const prepare = shop.client.prepare.bind(shop.client);
      let left = times;
      shop.client.prepare = () => (left-- > 0 ? Promise.reject(new Error('out of memory')) : prepare());
    };

    it('puts the undo back, and says so: document and character stay together', async () => {
      const { editor, client } = shop;
      const points = await addEven();
      failReplays(1);
      editor.undo();
      await until(() => client.store.state.failure !== null);
      expect(client.store.state.failure).equal(
        '"Even out" could not be undone: out of memory. Everything is as it was before.',
      );
      expect(listSteps(editor.document)).length(1);
      expect(pointsOf(1)).equal(points);
      expect(readValues().length).equal(points);
      // The next one works, and the word of the failure goes.
      expect(editor.undo()).equal('Even out');
      await until(() => pointsOf(1) !== points);
      expect(client.store.state.failure).equal(null);
      expect(readValues().length).equal(pointsOf(1));
      failReplays(1);
      editor.redo();
      await until(() => client.store.state.failure !== null);
      expect(client.store.state.failure).contain('could not be redone');
      expect(listSteps(editor.document)).length(0);
    });

    it('puts an undo back that is cancelled', async () => {
      const { editor, client } = shop;
      await addEven();
      editor.undo();
      client.cancel();
      await until(() => client.store.state.failure !== null);
      expect(listSteps(editor.document)).length(1);
    });

    it('tries again when something else was changed meanwhile, and ends with a word when it never succeeds', async () => {
      const { editor, client } = shop;
      const points = await addEven();
      failReplays(2);
      editor.undo();
      editor.updateScene('wind', { windSpeed: 3 });
      await until(() => pointsOf(1) !== points);
      expect(client.store.state.failure).equal(null);
      await shop.preparing.addStep('Even out', SKIRT, EVEN);
      failReplays(100);
      editor.undo();
      editor.updateScene('wind', { windSpeed: 5 });
      await until(() => client.store.state.failure !== null);
      expect(client.store.state.failure).contain('Reload the page');
    });
  });
});
