import { expect } from 'chai';
import {
  createDocument,
  createGarment,
  insertGarment,
  listRecords,
  type RecordId,
} from '../../core/document/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { addStep, createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import {
  bindSection,
  type Character,
  measureFigure,
  type Placement,
  Pose,
  placeCharacter,
  poseSection,
} from '../../core/rig/index.ts';
import { createRun } from '../../core/run/index.ts';
import { validateGlb } from '../gltf/validate-glb.ts';
import { getGltfIo, readCharacter, writeCharacter, writeShipment } from '../index.ts';

/** A skirt with mended weights and lengths at rest, simulated on a sim mesh, written and read again. */
async function shipSkirt(delivered = createWardrobe(), placement: Placement | null = null) {
  const bytes = await (await getGltfIo()).writeBinary(writeCharacter(delivered));
  const read = () => readCharacter([{ name: 'wardrobe.glb', bytes }]);
  const source = (await read()).character;
  const authored = createDocument();
  if (placement) addStep(authored, 'Leg', { kind: 'place', ...placement }, 0);
  addStep(authored, 'Skirt', { kind: 'transferWeights', maxDistance: 0.1, maxAngle: 0.6, influences: 4 });
  addStep(authored, 'Skirt', { kind: 'restInPose', clipName: 'bow' });
  addStep(authored, 'Skirt', { kind: 'makeSimMesh', edgeLength: 0.05, borderDetail: 0.5, others: [] });
  addStep(
    authored,
    'Leg',
    { kind: 'makeBodyMesh', name: 'Body mesh', vertexCount: 90, without: [], others: [] },
    0,
  );
  const { character } = prepareCharacter(source, authored);
  let ids = 0;
  const made = createGarment(character, authored, 2, () => `id-${++ids}` as RecordId);
  made.garment.renders = [{ sectionIndex: 1, sectionName: 'Skirt' }];
  insertGarment(
    authored,
    made,
    made.maxDistances.map((_, i) => (i % 3) * 0.05),
  );
  const id = 'mesh' as RecordId;
  authored.records.set(id, {
    type: 'bodyMesh',
    id,
    bodySetId: made.bodySet!.id,
    name: 'Leg mesh',
    stepId: null,
    sectionIndex: 3,
    sectionName: 'Body mesh',
    margin: 0.0125,
    group: 2,
  });
  const shipped = await writeShipment(await read(), authored);
  return { source, character, authored, shipped };
}

function simulate(
  character: Character,
  authored: Awaited<ReturnType<typeof shipSkirt>>['authored'],
): Float32Array {
  const run = createRun(authored, character);
  run.play(0);
  for (let frame = 0; frame < 30; frame++) run.step();
  const vertices = run.garments[0]!.setup.renders![0]!.vertexCount;
  const out = new Float32Array(3 * vertices);
  run.writeRender(0, 0, out, new Float32Array(3 * vertices));
  return out;
}

describe('a shipped character that was prepared', () => {
  it('is valid, holds the prepared sections and the sim mesh, and moves the same, byte for byte', async () => {
    const { source, character, authored, shipped } = await shipSkirt();
    expect(source.sections.length).equal(2);
    expect(await validateGlb(shipped)).deep.equal({ errors: 0, warnings: 0, messages: [] });
    const again = await readCharacter([{ name: 'again.glb', bytes: shipped }]);
    expect(again.report.repairs).deep.equal([]);
    expect(again.character.sections.map(({ name }) => name)).deep.equal([
      'Leg',
      'Skirt',
      'Skirt sim',
      'Body mesh',
    ]);
    for (const made of [2, 3]) expect(again.character.sections[made]!.isSimMesh).equal(true);
    const [mesh] = listRecords(again.authored!, 'bodyMesh');
    expect(mesh).include({ name: 'Leg mesh', sectionIndex: 3, margin: 0.0125, group: 2 });
    expect(again.character.sections[2]!.restPositions).deep.equal(character.sections[2]!.restPositions);
    expect(again.character.sections[1]!.jointWeights).deep.equal(character.sections[1]!.jointWeights);
    expect([...again.authored!.records.values()].some(({ type }) => type === 'step')).equal(false);
    const moved = simulate(character, authored);
    expect(
      Buffer.compare(
        Buffer.from(moved.buffer),
        Buffer.from(simulate(again.character, again.authored!).buffer),
      ),
    ).equal(0);
    // Written once more from what was read, it stays the same.
    const twice = await readCharacter([
      { name: 'twice.glb', bytes: await writeShipment(again, again.authored!) },
    ]);
    expect(
      Buffer.compare(
        Buffer.from(moved.buffer),
        Buffer.from(simulate(twice.character, twice.authored!).buffer),
      ),
    ).equal(0);
  });

  it('of a wrong unit and up axis comes out as it was placed, with what was not prepared as it came', async () => {
    const delivered = placeCharacter(createWardrobe(), { scale: 100, up: '-Z' });
    const { source, character, authored, shipped } = await shipSkirt(delivered, { scale: 0.01, up: '+Z' });
    expect(measureFigure(source).height / measureFigure(createWardrobe()).depth).closeTo(100, 0.01);
    // What was turned on delivery is still turned, and nothing else is said.
    const { errors, messages } = await validateGlb(shipped);
    expect(errors).equal(0);
    expect(messages.map(({ code }) => code)).deep.equal(Array(2).fill('NODE_SKINNED_MESH_LOCAL_TRANSFORMS'));
    const again = await readCharacter([{ name: 'again.glb', bytes: shipped }]);
    const [leg] = again.source!.document.getRoot().listMeshes();
    const written = leg!.listPrimitives()[0]!.getAttribute('POSITION')!.getArray();
    expect(written).deep.equal(delivered.sections[0]!.positions);
    character.sections.forEach((_, index) => {
      const [ours, theirs] = [character, again.character].map((one) => bindSection(one, index));
      ours!.forEach((value, i) => void expect(theirs![i]).closeTo(value, 1e-5));
    });
    const moved = simulate(character, authored);
    simulate(again.character, again.authored!).forEach(
      (value, i) => void expect(value).closeTo(moved[i]!, 0.002),
    );
    // And what was only placed moves as in a file that came right.
    const [ours, theirs] = [character, createWardrobe()].map((one) => {
      const pose = new Pose(one);
      pose.setClip(one.clips[0]!, 0.4);
      return poseSection(one, 0, pose);
    });
    theirs!.forEach((value, i) => void expect(ours![i]).closeTo(value, 1e-5));
  });
});
