import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import {
  type AuthoredDocument,
  BODY_DEFAULTS,
  createDocument,
  createGarment,
  type GarmentLevel,
  getScene,
  insertGarment,
  listGarments,
  listRecords,
  PLAIN_LEVEL,
  type RecordId,
  SCENE_ID,
} from '../../core/document/index.ts';
import { listBands, makeLevelMeshes, setUpLevel } from '../../core/levels/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { type Character, restoreSection } from '../../core/rig/index.ts';
import { startRun } from '../../core/run/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { validateGlb } from '../gltf/validate-glb.ts';
import { getGltfIo, type ReadCharacter, readCharacter, writeCharacter, writeShipment } from '../index.ts';
import { CLOTH_EXTENSION, type ClothExtension, type ShippedCrowd } from './cloth-extension.ts';

const LEVELS: readonly GarmentLevel[] = [
  { ...PLAIN_LEVEL, pixels: 400, edgeLength: 0.08, substepsPerSecond: 180 },
  {
    ...PLAIN_LEVEL,
    pixels: 200,
    edgeLength: 0.12,
    rate: 'everyOther',
    selfCollision: false,
    withoutBodies: ['ball' as RecordId],
  },
  { ...PLAIN_LEVEL, pixels: 50, blend: 0 },
];

const CROWD: ShippedCrowd = {
  target: 'Handheld',
  budgetMilliseconds: 2,
  cores: 2,
  fieldOfView: 1,
  screenHeight: 720,
  height: 1.8,
  bands: [
    { fromPixels: 400, toMetres: 3, costMilliseconds: 1, switchMilliseconds: null, fits: 4 },
    { fromPixels: 0, toMetres: null, costMilliseconds: 0, switchMilliseconds: 1.2, fits: null },
  ],
};

/** A garment with levels, as a file that is read anew each time: a skirt over a leg, or a sheet on a joint of its own. */
async function createLevelled(
  kind: 'skirt' | 'sheet' = 'skirt',
): Promise<{ read: () => Promise<ReadCharacter>; document: AuthoredDocument }> {
  const { document, character } = kind === 'skirt' ? dressSkirt() : dressSheet();
  const [garment] = listGarments(document);
  document.records.set(garment!.id, { ...garment!, levels: LEVELS });
  document.records.set(SCENE_ID, { ...getScene(document), levelSwitchSeconds: 0.45 });
  const bytes = await (await getGltfIo()).writeBinary(writeCharacter(character));
  return { read: () => readCharacter([{ name: 'levelled.glb', bytes }]), document };
}

function dressSheet(): { document: AuthoredDocument; character: Character } {
  const { document, setup } = createScene({ hasBody: true });
  return { document, character: setup.base };
}

function dressSkirt(): { document: AuthoredDocument; character: Character } {
  const character = createWardrobe();
  const document = createDocument();
  let ids = 0;
  const made = createGarment(character, document, 1, () => `id-${++ids}` as RecordId);
  insertGarment(
    document,
    made,
    made.maxDistances.map((_, p) => (p < 45 ? 0 : 0.2)),
  );
  const id = 'ball' as RecordId;
  document.records.set(id, {
    type: 'body',
    id,
    bodySetId: made.bodySet!.id,
    name: 'knee',
    jointName: 'knee',
    shape: { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.11, radiusB: 0.11 },
    ...BODY_DEFAULTS,
  });
  return { document, character };
}

const readBytes = (bytes: Uint8Array): Promise<ReadCharacter> =>
  readCharacter([{ name: 'shipped.glb', bytes }]);

async function readExtension(bytes: Uint8Array): Promise<ClothExtension> {
  const { source } = await readBytes(bytes);
  return source!.json.extensions![CLOTH_EXTENSION] as ClothExtension;
}

/** Where the sheet is after a while at each band. */
function simulate({ character }: ReadCharacter, document: AuthoredDocument): number[][] {
  const bands = listBands(listGarments(document));
  const made = makeLevelMeshes(character, document, bands);
  expect(made.faults).deep.equal([]);
  return bands.map((band) => {
    const run = startRun(setUpLevel(document, made, band));
    run.play(0);
    run.reset();
    for (let frame = 0; frame < 30; frame++) run.step();
    const { shown, targets } = run.garments[0]!;
    return [...shown.subarray(0, targets.length)];
  });
}

describe('levels of detail in a shipment', () => {
  for (const kind of ['skirt', 'sheet'] as const)
    it(`of a ${kind} simulate to the same bytes when read back, and ship to the same settings again`, async () => {
      const { read, document } = await createLevelled(kind);
      const before = simulate(await read(), document);
      const shipped = await writeShipment(await read(), document, 3, CROWD);
      const { errors, messages } = await validateGlb(shipped);
      // The sheet has no normals.
      if (kind === 'skirt') expect(errors, JSON.stringify(messages)).equal(0);
      const back = await readBytes(shipped);
      const [garment] = listGarments(back.authored!);
      const [ball] = listRecords(back.authored!, 'body');
      expect(garment!.levels).deep.equal(
        LEVELS.map((level) => ({
          ...level,
          withoutBodies: level.withoutBodies.length > 0 ? [ball!.id] : [],
        })),
      );
      expect(getScene(back.authored!).levelSwitchSeconds).equal(0.45);
      expect(back.character.sections.map(({ name }) => name)).deep.equal(
        (await read()).character.sections.map(({ name }) => name),
      );
      expect(simulate(back, back.authored!)).deep.equal(before);
      const again = await writeShipment(back, back.authored!);
      const [first, second] = [await readExtension(shipped), await readExtension(again)];
      expect(second.garments).deep.equal(first.garments);
      expect(again.length).within(0.98 * shipped.length, 1.02 * shipped.length);
    });

  it('have the meshes of their levels in the file, skinned, with their maps, as they are simulated', async () => {
    const { read, document } = await createLevelled();
    const bands = listBands(listGarments(document));
    const { character, source } = await read();
    const made = makeLevelMeshes(character, document, bands);
    const shipped = await writeShipment(await read(), document);
    const { levels } = (await readExtension(shipped)).garments[0]!;
    expect(levels.map(({ mesh }) => mesh !== null)).deep.equal([true, true, false]);
    const file = await (await getGltfIo()).readBinary(shipped);
    levels.slice(0, 2).forEach(({ mesh }, l) => {
      const node = file.getRoot().listNodes()[mesh!.node]!;
      const primitive = node.getMesh()!.listPrimitives()[mesh!.primitive]!;
      const own = setUpLevel(document, made, bands[l + 1]!).garments[0]!;
      const section = made.character.sections[own.compiled.sectionIndex]!;
      // In the units of the file.
      const { positions } = restoreSection(section, source!.scales);
      expect([...primitive.getAttribute('POSITION')!.getArray()!]).deep.equal([...positions]);
      expect(node.getSkin()).not.equal(null);
      const distances = primitive.getAttribute('_MAX_DISTANCE')!.getArray()!;
      own.compiled.vertexOfPoint.forEach((vertex, p) => {
        expect(distances[vertex]).equal(own.maxDistances[own.compiled.weldedOfPoint[p]!]);
      });
    });
  });

  it('hold settings that the published schema accepts, with the crowd', async () => {
    const { read, document } = await createLevelled();
    const extension = await readExtension(await writeShipment(await read(), document, 3, CROWD));
    const schema = JSON.parse(
      readFileSync(join(findProjectRoot(), 'docs/formats/COBWEB_cloth.schema.json'), 'utf8'),
    ) as object;
    const validate = new Ajv2020({ allErrors: true }).compile(schema);
    validate(extension);
    expect(validate.errors).equal(null);
    expect(extension.crowd).deep.equal(CROWD);
    const [garment] = extension.garments;
    validate({ ...extension, garments: [{ ...garment, levels: [{ pixels: 0 }] }] });
    expect(validate.errors!.length).above(5);
  });

  it('that are incomplete are refused, naming the garment', async () => {
    const { read, document } = await createLevelled();
    const [garment] = listGarments(document);
    const wrong = [{ ...LEVELS[0]!, pixels: -4 }];
    document.records.set(garment!.id, { ...garment!, levels: wrong });
    const shipped = await writeShipment(await read(), document);
    try {
      await readBytes(shipped);
      expect.fail('it was read');
    } catch (error) {
      expect((error as Error).message).contain('levels of detail are incomplete');
    }
  });
});
