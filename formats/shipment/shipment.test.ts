import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { type BufferGeometry, Mesh, type Object3D, Vector3 } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { type BodyShape, isRound, isRoundBody } from '../../core/bodies/index.ts';
import {
  type AuthoredDocument,
  areClear,
  BODY_FOLLOWS,
  createDocument,
  createGarment,
  type FabricRecord,
  findChannel,
  getScene,
  insertGarment,
  listBodies,
  listGarments,
  listRecords,
  placeBodies,
  type RecordId,
  SCENE_DEFAULTS,
  SCENE_ID,
} from '../../core/document/index.ts';
import { transformPoint } from '../../core/math/index.ts';
import { type ChannelKind, SHIPPED_KINDS } from '../../core/reach/index.ts';
import { Pose } from '../../core/rig/index.ts';
import { hangBelowArmature } from '../../core/rig/test-armature.ts';
import { createRun } from '../../core/run/index.ts';
import { resolveAllLimits } from '../../core/trials/index.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { getGltfIo } from '../gltf/gltf-io.ts';
import type { RawGltf } from '../gltf/raw-gltf.ts';
import { readContainer } from '../gltf/read-container.ts';
import { validateGlb } from '../gltf/validate-glb.ts';
import { writeCharacter } from '../gltf/write-character.ts';
import { type ReadCharacter, readCharacter } from '../read-character.ts';
import { createStrip, type GltfBuilder, packGlb } from '../test-gltf.ts';
import { CLOTH_EXTENSION, type ClothExtension, DOCUMENT_VERSION_OF_SPEC } from './cloth-extension.ts';
import { writeShipment } from './write-shipment.ts';

/** A wedge: no box, so that it takes faces of all directions. */
const WEDGE = [
  [-0.1, 0, -0.1],
  [0.1, 0, -0.1],
  [0.1, 0, 0.1],
  [-0.1, 0, 0.1],
  [-0.1, 0.1 / 3, 0],
  [0.1, 0.1 / 3, 0],
];

const FLAT_SHAPES: readonly BodyShape[] = [
  { kind: 'box', centre: [0.1, 0.2, 0.3], rotation: [0, 0.6, 0, 0.8], halfSize: [0.1, 0.2 / 3, 0.05] },
  { kind: 'hull', points: WEDGE.flat() },
  { kind: 'plane', point: [0, -0.4, 0.1], normal: [0, 0.8, 0.6] },
];

/** The strip as a garment that hangs from its lower end, with one body of each kind. */
function author({ character }: ReadCharacter): AuthoredDocument {
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `id-${++count}` as RecordId;
  const made = createGarment(character, document, 0, createId);
  made.fabric.settings.bendStiffness = 1.23456789e-5;
  insertGarment(document, made, Float32Array.of(0, 0, 0.1, 0.123456789, 0.7, 1 / 3));
  const others: [ChannelKind, number[]][] = [
    ['inwardLimit', [0.01, 0.02, 0.3, 0.3, 0.25, 0.1]],
    ['limitRoundness', [0.2, 0.2, 1, 1, 5, 0.1]],
    ['lining', [0, 0, 0, 0, 0, 0]],
    ['stiffness', [1, 1, 2, 0.5, 0, 3]],
    ['damping', [1, 1, 4, 4, 0.1, 1]],
    ['drag', [0.3, 0.3, 1, 1, 1, 0]],
  ];
  for (const [kind, values] of others) {
    const id = createId();
    const map = { ...made.channel, id, kind, name: `${kind} of the strip` };
    document.records.set(id, map);
    document.arrays.set(id, Float32Array.from(values));
    // Another that is not in use, and not shipped.
    const spare = createId();
    document.records.set(spare, { ...map, id: spare, isInUse: false });
    document.arrays.set(spare, new Float32Array(6).fill(0.4));
  }
  for (const [kind, node] of [
    ['sphere', 1],
    ['capsule', 2],
    ['taperedCapsule', 2],
  ] as const) {
    const id = createId();
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: made.bodySet!.id,
      name: kind,
      jointName: character.skeleton.names[node]!,
      margin: 0,
      group: 1,
      shape: {
        kind,
        a: [0.1, 0.2 / 3, -0.05],
        b: [-0.2, 0.3, 0.1 / 7],
        radiusA: 0.11,
        radiusB: kind === 'taperedCapsule' ? 0.07 : 0.11,
      },
    });
  }
  for (const shape of FLAT_SHAPES) {
    const id = createId();
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: made.bodySet!.id,
      name: `a ${shape.kind}`,
      jointName: character.skeleton.names[1]!,
      margin: 0.004,
      group: 3,
      shape,
    });
  }
  document.records.set(SCENE_ID, { ...SCENE_DEFAULTS, windSpeed: 2.5, windDirection: 33 });
  return document;
}

const readBytes = (bytes: Uint8Array): Promise<ReadCharacter> =>
  readCharacter([{ name: 'strip.glb', bytes }]);

function simulate({ character }: ReadCharacter, document: AuthoredDocument): Float32Array {
  const run = createRun(document, character);
  run.wind = { windSpeed: 1, windDirection: 20, windGusts: 0.5, windTurbulence: 0.5 };
  run.play(character.clips.length > 0 ? 0 : null);
  run.reset();
  for (let i = 0; i < 150; i++) run.step();
  return run.garments[0]!.solver.positions;
}

const jsonOf = (bytes: Uint8Array): RawGltf => readContainer({ name: 'x.glb', bytes }).json;

describe('shipments', () => {
  const sources: [string, (builder: GltfBuilder) => void][] = [
    ['a plain character', () => {}],
    [
      'one that was repaired on reading',
      (builder) => {
        builder.json.meshes![0]!.primitives![0]!.attributes!.WEIGHTS_0 = builder.add(
          'VEC4',
          Float32Array.from({ length: 24 }, (_, i) => [0.9, 0.4, 0, 0][i % 4]!),
        );
        builder.json.animations![0]!.samplers![0]!.input = builder.add(
          'SCALAR',
          Float32Array.of(0, Number.NaN, 2),
          { min: [0], max: [2] },
        );
      },
    ],
  ];
  for (const [name, edit] of sources) {
    it(`of ${name} simulate to the same bytes when read back, and ship to the same settings again`, async () => {
      const builder = createStrip();
      edit(builder);
      const source = await readBytes(builder.toGlb());
      const document = author(source);
      const before = simulate(source, document);
      const shipped = await writeShipment(source, document);
      const { errors, messages } = await validateGlb(shipped);
      expect(errors, JSON.stringify(messages)).equal(0);
      const back = await readBytes(shipped);
      expect(simulate(back, back.authored!)).deep.equal(before);
      expect(before.every(Number.isFinite)).equal(true);
      const maps = listRecords(back.authored!, 'channel');
      expect(maps.map(({ kind, isInUse }) => [kind, isInUse])).deep.equal(
        SHIPPED_KINDS.map((kind) => [kind, true]),
      );
      for (const { kind, id } of maps) {
        const sent = findChannel(document, listGarments(document)[0]!.id, kind)!;
        expect(back.authored!.arrays.get(id), kind).deep.equal(document.arrays.get(sent.id));
      }
      const again = await writeShipment(back, back.authored!);
      expect(jsonOf(again).extensions).deep.equal(jsonOf(shipped).extensions);
      expect(jsonOf(again).nodes).length(jsonOf(shipped).nodes!.length);
    });
  }

  it('of an unskinned OBJ hold a garment too', async () => {
    const text = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n';
    const source = await readCharacter([{ name: 'flag.obj', bytes: new TextEncoder().encode(text) }]);
    const document = createDocument();
    let count = 0;
    const made = createGarment(source.character, document, 0, () => `id-${++count}` as RecordId);
    insertGarment(document, made, Float32Array.of(0, 0, 0.5, 0.5));
    const before = simulate(source, document);
    const shipped = await writeShipment(source, document);
    expect((await validateGlb(shipped)).errors).equal(0);
    const back = await readBytes(shipped);
    expect(simulate(back, back.authored!)).deep.equal(before);
  });

  it('have weights that sum to one where those of the source did so but nearly', async () => {
    const builder = createStrip();
    const rows = [0, 0.5, 1].flatMap((y) =>
      [1.00004 - y, y, 0, 0, 0.99997 - y, y, 0, 0].map((w) => Math.max(0, w)),
    );
    const attributes = builder.json.meshes![0]!.primitives![0]!.attributes!;
    attributes.WEIGHTS_0 = builder.add('VEC4', Float32Array.from(rows));
    const bytes = builder.toGlb();
    expect((await validateGlb(bytes)).errors).above(3);
    const source = await readBytes(bytes);
    const shipped = await writeShipment(source, author(source));
    expect((await validateGlb(shipped)).errors).equal(0);
    // Once they do, they are left alone.
    const back = await readBytes(shipped);
    const again = await writeShipment(back, back.authored!);
    expect((await readBytes(again)).character.sections[0]!.jointWeights).deep.equal(
      back.character.sections[0]!.jointWeights,
    );
  });

  it('are read by three.js with the attribute in place', async () => {
    const source = await readBytes(createStrip().toGlb());
    const shipped = await writeShipment(source, author(source));
    const gltf = await new GLTFLoader().parseAsync(shipped.slice().buffer, '');
    let geometry: BufferGeometry | null = null;
    gltf.scene.traverse((object: Object3D) => {
      if (object instanceof Mesh) geometry = object.geometry as BufferGeometry;
    });
    const attribute = geometry!.attributes._max_distance!;
    expect(Array.from({ length: attribute.count }, (_, v) => attribute.getX(v))).deep.equal(
      [0, 0, 0.1, 0.123456789, 0.7, 1 / 3].map(Math.fround),
    );
  });

  it('hold settings that the published schema accepts', async () => {
    const source = await readBytes(createStrip().toGlb());
    const json = jsonOf(await writeShipment(source, author(source), 4));
    const schema = JSON.parse(
      readFileSync(join(findProjectRoot(), 'docs/formats/COBWEB_cloth.schema.json'), 'utf8'),
    ) as object;
    const validate = new Ajv2020({ allErrors: true }).compile(schema);
    validate(json.extensions![CLOTH_EXTENSION]);
    expect(validate.errors).equal(null);
    validate({ ...(json.extensions![CLOTH_EXTENSION] as object), fabrics: [{}] });
    expect(validate.errors!.length).above(5);
  });

  it('name the revision that they were made of, and none when there is none', async () => {
    const revisionOf = async (revision?: number): Promise<unknown> => {
      const source = await readBytes(createStrip().toGlb());
      const json = jsonOf(await writeShipment(source, author(source), revision));
      return (json.extensions![CLOTH_EXTENSION] as ClothExtension).revision;
    };
    expect(await revisionOf(17)).equal(17);
    expect(await revisionOf()).equal(undefined);
  });

  it('say what bodies do when the body shape is another', async () => {
    const source = await readBytes(createStrip().toGlb());
    for (const follows of BODY_FOLLOWS) {
      const document = author(source);
      const set = listRecords(document, 'bodySet')[0]!;
      document.records.set(set.id, { ...set, follows });
      const back = await readBytes(await writeShipment(source, document));
      expect(listRecords(back.authored!, 'bodySet').map((read) => read.follows)).deep.equal([follows]);
    }
  });

  it('say which garments are clear of each other, and simulate them so', async () => {
    const source = await readBytes(createStrip().toGlb());
    const document = author(source);
    const [garment] = listGarments(document);
    const channel = findChannel(document, garment!.id)!;
    // The same strip worn twice, the upper one told as clear by the one beneath.
    const over = { ...garment!, id: 'over' as RecordId, name: 'Over', order: garment!.order + 1 };
    const map = { ...channel, id: 'over-map' as RecordId, garmentId: over.id };
    document.records.set(over.id, over);
    document.records.set(map.id, map);
    document.arrays.set(map.id, document.arrays.get(channel.id)!.slice());
    const ship = async (clearOf: RecordId[]) => {
      document.records.set(garment!.id, { ...garment!, clearOf });
      const bytes = await writeShipment(source, document);
      const back = await readBytes(bytes);
      const { garments } = jsonOf(bytes).extensions![CLOTH_EXTENSION] as ClothExtension;
      return { back, told: garments.map((each) => each.clearOf) };
    };
    expect((await ship([])).told).deep.equal([[], []]);
    const { back, told } = await ship([over.id]);
    expect(told).deep.equal([[], [0]]);
    const [lower, upper] = listGarments(back.authored!);
    expect(areClear(upper!, lower!)).equal(true);
    const [first, second] = createRun(back.authored!, back.character).garments;
    expect(second!.beneath).deep.equal([first]);
    expect(second!.layers).deep.equal([]);
  });

  it('say what trials of each garment must stay within: its own, else the character’s, else the project’s', async () => {
    const source = await readBytes(createStrip().toGlb());
    const document = author(source);
    const [garment] = listGarments(document);
    document.records.set(garment!.id, { ...garment!, trialLimits: { penetration: 0.004, cost: null } });
    document.records.set(SCENE_ID, {
      ...getScene(document),
      trialLimits: { penetration: 0.02, stretch: 0.2 },
    });
    document.projectLimits = { penetration: 0.03, stretch: 0.3, jitter: 0.002 };
    const limits = { penetration: 0.004, cost: null, stretch: 0.2, jitter: 0.002 };
    const back = await readBytes(await writeShipment(source, document));
    expect(listGarments(back.authored!)[0]!.trialLimits).deep.equal(limits);
    const [was, is] = [document, back.authored!].map((one) => [...resolveAllLimits(one).values()]);
    expect(is).deep.equal(was);
  });

  describe('of every version that was ever written', () => {
    const EXAMPLES = join(import.meta.dirname, 'examples');
    const files = readdirSync(EXAMPLES).sort();

    it('have an example each', () => {
      expect(files).deep.equal(
        Object.keys(DOCUMENT_VERSION_OF_SPEC)
          .map((version) => `shipment-${version}.glb`)
          .sort(),
      );
    });

    for (const file of files) {
      it(`are read: ${file}`, async () => {
        const { authored, report } = await readBytes(readFileSync(join(EXAMPLES, file)));
        expect(report.odd).deep.equal([]);
        const [garment] = listGarments(authored!);
        // Before 1.1 there was neither warp nor blend.
        const [warpTurn, blend] = file === 'shipment-1.0.glb' ? [0, 1] : [0.25, 0.75];
        expect(garment).include({ name: 'Sheet', sectionName: 'sheet', warpTurn, blend, lining: 'none' });
        const fabric = authored!.records.get(garment!.fabricId) as FabricRecord;
        expect(fabric.settings).include({ density: 0.31, bendStiffness: 3e-5 });
        const map = findChannel(authored!, garment!.id)!;
        const values = authored!.arrays.get(map.id)!;
        expect(Array.from(values)).deep.equal(
          Array.from({ length: 25 }, (_, p) => Math.fround(0.01 * Math.floor(p / 5))),
        );
        expect(
          listBodies(authored!, garment!.bodySetId).map(({ jointName, shape }) => [jointName, shape]),
        ).deep.equal([
          [
            'root',
            { kind: 'taperedCapsule', a: [0, 1.1, -0.1], b: [0, 0.9, -0.1], radiusA: 0.08, radiusB: 0.06 },
          ],
        ]);
        expect(getScene(authored!)).include({ windSpeed: 2 });
      });
    }

    it('keep every number of the fabric, whatever it was called', async () => {
      const [now, ...earlier] = await Promise.all(
        [...files].reverse().map(async (file) => {
          const { authored } = await readBytes(readFileSync(join(EXAMPLES, file)));
          return listRecords(authored!, 'fabric')[0]!.settings;
        }),
      );
      for (const settings of earlier) expect(settings).deep.equal(now);
    });
  });

  it('leave in the units that the file came in, with colliders where the bodies are', async () => {
    const source = await readBytes(createStrip().toGlb());
    const document = author(source);
    const { character } = source;
    expect([...character.skeleton.scales]).deep.equal(new Array(12).fill(1));
    const plain = jsonOf(createStrip().toGlb());
    const shipped = await writeShipment(source, document);
    const json = jsonOf(shipped);
    plain.nodes!.forEach((node, i) => {
      expect([json.nodes![i]!.scale, json.nodes![i]!.translation]).deep.equal([node.scale, node.translation]);
    });
    const again = await readBytes(shipped);
    expect(again.source!.character.sections[0]!.positions).deep.equal(
      source.source!.character.sections[0]!.positions,
    );
    expect(again.character.sections[0]!.positions).deep.equal(character.sections[0]!.positions);
    // By another reader: where in the world the start of each body is, and how large.
    const gltf = await new GLTFLoader().parseAsync(shipped.slice().buffer, '');
    gltf.scene.updateMatrixWorld(true);
    const cloth = json.extensions![CLOTH_EXTENSION] as ClothExtension;
    const pose = new Pose(character);
    pose.setBind();
    const bodies = placeBodies(document, listGarments(document)[0]!, { base: character, shaped: character });
    expect(bodies.length).equal(6);
    bodies.forEach((body, i) => {
      const shape = cloth.bodySets[0]!.bodies[i]!;
      if (!isRound(body) || !isRoundBody(shape)) return;
      const joint = gltf.scene.getObjectByName(character.skeleton.names[body.node]!)!;
      const seen = joint.localToWorld(new Vector3(...shape.a));
      const meant = new Float64Array(3);
      transformPoint(meant, 0, pose.worldMatrices, 16 * body.node, ...body.a);
      seen.toArray().forEach((value, k) => {
        expect(value).closeTo(meant[k]!, 1e-6);
      });
      expect(shape.radiusA * joint.getWorldScale(new Vector3()).x).closeTo(body.radiusA, 1e-7);
    });
  });

  it('place each collider so that its shape has the ends that were authored', async () => {
    const source = await readBytes(createStrip().toGlb());
    const json = jsonOf(await writeShipment(source, author(source)));
    const { shapes } = json.extensions!.KHR_implicit_shapes as {
      shapes: { type: string; capsule?: { height: number; radiusBottom: number; radiusTop: number } }[];
    };
    const cloth = json.extensions![CLOTH_EXTENSION] as ClothExtension;
    expect(shapes.map((shape) => shape.type).sort()).deep.equal([
      'box',
      'capsule',
      'capsule',
      'plane',
      'sphere',
    ]);
    let seen = 0;
    for (const body of cloth.bodySets[0]!.bodies) {
      const node = json.nodes![body.node]!;
      const collider = node.extensions!.KHR_physics_rigid_bodies as {
        collider: { geometry: { shape: number } };
      };
      const { capsule } = shapes[collider.collider.geometry.shape] ?? {};
      if (!capsule || !isRoundBody(body)) continue;
      seen++;
      const [x, y, z, w] = node.rotation as [number, number, number, number];
      // The node's Y axis, turned by its rotation.
      const up = [2 * (x * y - w * z), 1 - 2 * (x * x + z * z), 2 * (y * z + w * x)];
      for (let k = 0; k < 3; k++) {
        expect(node.translation![k]! - (up[k]! * capsule.height) / 2).closeTo(body.a[k]!, 1e-9);
        expect(node.translation![k]! + (up[k]! * capsule.height) / 2).closeTo(body.b[k]!, 1e-9);
      }
      expect([capsule.radiusBottom, capsule.radiusTop]).deep.equal([body.radiusA, body.radiusB]);
    }
    expect(seen).equal(2);
  });

  it('have colliders as large as their bodies with their margins, though they are many of the units of the file', async () => {
    const strip = await readBytes(createStrip().toGlb());
    const inCentimetres = writeCharacter(hangBelowArmature(strip.character, 0.01, [0, 0, 0, 1]));
    const source = await readBytes(await (await getGltfIo()).writeBinary(inCentimetres));
    const document = author(source);
    for (const body of listRecords(document, 'body')) {
      if (body.shape.kind !== 'box') continue;
      const shape = { ...body.shape, halfSize: [0.3, 0.25, 0.2] as [number, number, number] };
      document.records.set(body.id, { ...body, shape, margin: 0.01 });
    }
    const json = jsonOf(await writeShipment(source, document));
    const { shapes } = json.extensions!.KHR_implicit_shapes as { shapes: { box?: { size: number[] } }[] };
    const size = shapes.find(({ box }) => box)!.box!.size;
    expect(size.map((value) => value.toFixed(2))).deep.equal(['62.00', '52.00', '42.00']);
  });

  it('of an unknown version, or with missing parts, are refused', async () => {
    const source = await readBytes(createStrip().toGlb());
    const shipped = await writeShipment(source, author(source));
    const { json, binary } = readContainer({ name: 'x.glb', bytes: shipped });
    const refuse = async (edit: (cloth: ClothExtension) => void): Promise<string> => {
      const copy = structuredClone(json);
      edit(copy.extensions![CLOTH_EXTENSION] as ClothExtension);
      return readBytes(packGlb(copy, binary!)).then(
        () => 'read',
        (error: Error) => error.message,
      );
    };
    expect(
      await refuse((cloth) => {
        cloth.specVersion = '7.0';
      }),
    ).contain('Its version is "7.0"; this build reads 1.0');
    expect(
      await refuse((cloth) => {
        cloth.garments[0]!.fabric = 4;
      }),
    ).contain('garment "Strip"');
    expect(
      await refuse((cloth) => {
        Object.assign(cloth.bodySets[0]!.bodies.find(isRoundBody)!, { radiusA: Number.NaN });
      }),
    ).match(/body \d+/);
    expect(
      await refuse((cloth) => {
        cloth.bodySets[0]!.follows = 'the moon' as never;
      }),
    ).contain('"the moon"');
    expect(
      await refuse((cloth) => {
        cloth.fabrics = 'none' as never;
      }),
    ).contain('fabrics: It is not a list');
    for (const damaged of [{}, 'none', [null], [3]]) {
      for (const list of ['bodies', 'meshes'] as const) {
        const told = await refuse((cloth) => {
          cloth.bodySets[0]![list] = damaged as never;
        });
        expect(told, `${list} ${JSON.stringify(damaged)}`).contain(`${list} of set`);
      }
    }
    const { node, primitive } = (json.extensions![CLOTH_EXTENSION] as ClothExtension).garments[0]!;
    const mesh = { name: 'Skin', node, primitive, margin: 0.01, group: 1 };
    for (const wrong of [
      { node: 99 },
      { primitive: 7 },
      { margin: -1 },
      { margin: Number.NaN },
      { group: 0 },
    ]) {
      const told = await refuse((cloth) => {
        cloth.bodySets[0]!.meshes = [{ ...mesh, ...wrong }];
      });
      expect(told, JSON.stringify(wrong)).contain('mesh 0');
    }
  });
});
