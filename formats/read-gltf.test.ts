import { expect } from 'chai';
import { MeshoptEncoder } from 'meshoptimizer';
import { AnimationMixer, Mesh, type Object3D, SkinnedMesh, Vector3 } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { checkSection } from '../core/prepare/index.ts';
import { bindSection, Pose, poseSection } from '../core/rig/index.ts';
import type { RawGltf } from './gltf/raw-gltf.ts';
import { type ReadCharacter, readCharacter } from './read-character.ts';
import { createStrip, type GltfBuilder } from './test-gltf.ts';

const read = (bytes: Uint8Array, name = 'strip.glb') => readCharacter([{ name, bytes }]);

/** World vertices of every mesh, as an independent reader poses them. */
async function poseWithThree(bytes: Uint8Array, clip: number, time: number): Promise<Map<string, Vector3[]>> {
  const gltf = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
  const mixer = new AnimationMixer(gltf.scene);
  if (gltf.animations[clip]) mixer.clipAction(gltf.animations[clip]).play();
  mixer.setTime(time);
  gltf.scene.updateMatrixWorld(true);
  const positions = new Map<string, Vector3[]>();
  gltf.scene.traverse((object: Object3D) => {
    if (!(object instanceof Mesh)) return;
    if (object instanceof SkinnedMesh) object.skeleton.update();
    const { count } = object.geometry.attributes.position!;
    positions.set(
      object.name,
      Array.from({ length: count }, (_, v) => {
        const p = object.getVertexPosition(v, new Vector3());
        return object.localToWorld(p);
      }),
    );
  });
  return positions;
}

function expectSame(ours: Float32Array, theirs: Vector3[], tolerance = 1e-5): void {
  expect(ours.length).equal(3 * theirs.length);
  theirs.forEach((p, v) => {
    for (const [k, value] of [p.x, p.y, p.z].entries()) expect(ours[3 * v + k]).closeTo(value, tolerance);
  });
}

describe('reading glTF', () => {
  it('poses a skin under a turned, scaled armature, with its mesh below its own joint, as three.js does', async () => {
    const bytes = createStrip().toGlb();
    const { character } = await read(bytes);
    const pose = new Pose(character);
    for (const time of [0, 0.3, 1, 1.7, 2.5]) {
      pose.setClip(character.clips[0]!, time);
      const theirs = await poseWithThree(bytes, 0, Math.min(time, 1.9999));
      if (time < 2) expectSame(poseSection(character, 0, pose), theirs.get('strip')!);
    }
  });

  it('stands in bind pose whatever the nodes do', async () => {
    const builder = createStrip();
    builder.json.nodes![2]!.rotation = [0, 0, 0.6, 0.8];
    const { character } = await read(builder.toGlb());
    const straight = await read(createStrip().toGlb());
    const bound = bindSection(character, 0);
    bindSection(straight.character, 0).forEach((value, i) => {
      expect(bound[i]).closeTo(value, 1e-6);
    });
  });

  it('poses morphs and rigid meshes as three.js does', async () => {
    const builder = createStrip();
    const { json } = builder;
    const offsets = Float32Array.from({ length: 18 }, (_, i) => Math.sin(i));
    json.meshes!.push({
      name: 'Block',
      primitives: [
        {
          attributes: { POSITION: json.meshes![0]!.primitives![0]!.attributes!.POSITION! },
          targets: [{ POSITION: builder.add('VEC3', offsets) }],
        },
      ],
      weights: [0.25],
    } as NonNullable<RawGltf['meshes']>[number]);
    json.nodes!.push({ name: 'block', mesh: 1, translation: [0, 1, 0], rotation: [0, 0.6, 0, 0.8] });
    json.nodes![2]!.children!.push(4);
    json.animations![0]!.samplers!.push({
      input: 6 - 1,
      output: builder.add('SCALAR', Float32Array.of(0, 1, 0.5)),
    });
    json.animations![0]!.channels!.push({ sampler: 1, target: { node: 4, path: 'weights' } });
    const bytes = builder.toGlb();
    const { character } = await read(bytes);
    const block = character.sections.findIndex((section) => section.name === 'Block');
    expect(character.sections[block]!.isRigid).equal(true);
    const pose = new Pose(character);
    pose.setClip(character.clips[0]!, 0.4);
    expectSame(poseSection(character, block, pose), (await poseWithThree(bytes, 0, 0.4)).get('block')!);
  });

  it('keeps eight influences, and four when the second set is empty', async () => {
    const eight = createStrip();
    const attributes = eight.json.meshes![0]!.primitives![0]!.attributes!;
    attributes.JOINTS_1 = attributes.JOINTS_0!;
    attributes.WEIGHTS_1 = eight.add(
      'VEC4',
      Float32Array.from({ length: 24 }, (_, i) => (i % 4 === 1 ? 1 : 0)),
    );
    const { character, report } = await read(eight.toGlb());
    expect(character.sections[0]!.influences).equal(8);
    expect(report.repairs.map((repair) => repair.code)).include('weight-sum');
    const sums = Array.from({ length: 6 }, (_, v) =>
      character.sections[0]!.jointWeights.subarray(8 * v, 8 * v + 8).reduce((sum, w) => sum + w, 0),
    );
    for (const sum of sums) expect(sum).closeTo(1, 1e-6);
    attributes.WEIGHTS_1 = eight.add('VEC4', new Float32Array(24));
    expect((await read(eight.toGlb())).character.sections[0]!.influences).equal(4);
  });

  it('unpacks quantised, sparse and meshopt data', async () => {
    const inFile = ({ source }: ReadCharacter) => source!.character.sections[0]!.positions;
    const plain = inFile(await read(createStrip().toGlb()));
    const builder = createStrip();
    const { json } = builder;
    const quantised = Int16Array.from(plain, (value) => Math.round(value * 32767));
    const padded = new Int16Array(4 * 6);
    for (let v = 0; v < 6; v++) padded.set(quantised.subarray(3 * v, 3 * v + 3), 4 * v);
    const view = builder.addView(padded);
    json.bufferViews![view]!.byteStride = 8;
    json.accessors![0] = { bufferView: view, componentType: 5122, normalized: true, count: 6, type: 'VEC3' };
    json.extensionsUsed = ['KHR_mesh_quantization'];
    json.extensionsRequired = ['KHR_mesh_quantization'];
    const first = await read(builder.toGlb());
    plain.forEach((value, i) => {
      expect(inFile(first)[i]).closeTo(value, 1e-4);
    });
    expect(first.report.decoded).include('quantised vertices');

    const sparse = createStrip();
    sparse.json.accessors![0]!.sparse = {
      count: 1,
      indices: { bufferView: sparse.addView(Uint16Array.of(5)), componentType: 5123 },
      values: { bufferView: sparse.addView(Float32Array.of(7, 8, 9)) },
    };
    const second = await read(sparse.toGlb());
    expect([...inFile(second).subarray(15)]).deep.equal([7, 8, 9]);
    expect(second.report.decoded).include('sparse data');

    await MeshoptEncoder.ready;
    const packed = createStrip();
    const raw = new Uint8Array(plain.buffer, plain.byteOffset, plain.byteLength);
    const encoded = packed.addView(MeshoptEncoder.encodeVertexBuffer(raw, 6, 12));
    const target = packed.json.bufferViews![packed.json.accessors![0]!.bufferView!]!;
    target.extensions = {
      EXT_meshopt_compression: {
        ...packed.json.bufferViews![encoded]!,
        byteStride: 12,
        count: 6,
        mode: 'ATTRIBUTES',
      } as never,
    };
    packed.json.extensionsUsed = ['EXT_meshopt_compression'];
    packed.json.extensionsRequired = ['EXT_meshopt_compression'];
    const third = await read(packed.toGlb());
    expect([...inFile(third)]).deep.equal([...plain]);
    expect(third.report.decoded).include('meshopt packing');
  });

  it('reads a .gltf with its buffer beside it, or inside it', async () => {
    const builder = createStrip();
    builder.json.buffers.push({ uri: 'data/strip%20one.bin' });
    const text = new TextEncoder().encode(JSON.stringify(builder.finish()));
    const beside = await readCharacter([
      { name: 'strip.gltf', bytes: text },
      { name: 'strip one.bin', bytes: builder.bytes },
    ]);
    builder.json.buffers[0]!.uri =
      `data:application/octet-stream;base64,${Buffer.from(builder.bytes).toString('base64')}`;
    const inside = await read(new TextEncoder().encode(JSON.stringify(builder.finish())), 'strip.gltf');
    expect(beside.character.sections).deep.equal(inside.character.sections);
    expect(beside.report.format).equal('glTF');
  });

  it('unrolls strips and fans, and makes indices where there are none', async () => {
    const triangles = async (mode: number): Promise<number[]> => {
      const builder = createStrip();
      const primitive = builder.json.meshes![0]!.primitives![0]!;
      delete primitive.indices;
      primitive.mode = mode;
      return [...(await read(builder.toGlb())).character.sections[0]!.triangles];
    };
    expect(await triangles(4)).deep.equal([0, 1, 2, 3, 4, 5]);
    expect(await triangles(5)).deep.equal([0, 1, 2, 2, 1, 3, 2, 3, 4, 4, 3, 5]);
    expect(await triangles(6)).deep.equal([0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5]);
  });
});

describe('repairs on reading', () => {
  const codes = async (
    edit: (builder: GltfBuilder) => void,
  ): Promise<{ codes: string[]; character: Awaited<ReturnType<typeof read>>['character'] }> => {
    const builder = createStrip();
    edit(builder);
    const { character, report } = await read(builder.toGlb());
    return { character, codes: [...report.repairs, ...report.odd].map((note) => note.code) };
  };

  it('drop keys that are not numbers, run backwards or share a time', async () => {
    const result = await codes((builder) => {
      const half = Math.SQRT1_2;
      builder.json.animations![0]!.samplers![0] = {
        input: builder.add('SCALAR', Float32Array.of(2, 1, 1, Number.NaN, 0)),
        output: builder.add(
          'VEC4',
          Float32Array.of(0, 0, 0, 1, 0, 0, half, half, 0, 0, 1, 0, 0, 0, 0, 1, Number.NaN, 0, 0, 1),
        ),
      };
    });
    expect(result.codes).include.members(['not-a-number', 'unsorted-keys', 'doubled-keys']);
    expect([...result.character.clips[0]!.tracks[0]!.times]).deep.equal([1, 2]);
    expect(result.character.clips[0]!.duration).equal(2);
  });

  it('keep clips without length as stills, and leave out those that move nothing', async () => {
    const still = await codes((builder) => {
      const sampler = builder.json.animations![0]!.samplers![0]!;
      sampler.input = builder.add('SCALAR', Float32Array.of(0));
      sampler.output = builder.add('VEC4', Float32Array.of(0, 0, 0, 1));
    });
    expect(still.codes).include('still-clip');
    expect(still.character.clips[0]!.duration).equal(0);
    const empty = await codes((builder) => {
      builder.json.animations![0]!.samplers![0]!.input = builder.add('SCALAR', Float32Array.of(Number.NaN));
    });
    expect(empty.codes).include('empty-clip');
    expect(empty.character.clips).deep.equal([]);
  });

  it('scale weights that do not sum to one, and bind vertices that have none', async () => {
    const result = await codes((builder) => {
      const rows = [
        2,
        2,
        0,
        0,
        0,
        0,
        0,
        0,
        -1,
        0.5,
        0,
        0,
        Number.NaN,
        1,
        0,
        0,
        0.3,
        0.3,
        0,
        0,
        0.5,
        0.5,
        0,
        0,
      ];
      builder.json.meshes![0]!.primitives![0]!.attributes!.WEIGHTS_0 = builder.add(
        'VEC4',
        Float32Array.from(rows),
      );
    });
    expect(result.codes).include.members(['weight-sum', 'no-weights', 'bad-weights']);
    expect([...result.character.sections[0]!.jointWeights]).deep.equal([
      0.5, 0.5, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0.5, 0.5, 0, 0, 0.5, 0.5, 0, 0,
    ]);
    // And the check knows which they were.
    const found = checkSection(result.character, 0).find(({ kind }) => kind === 'weightless')!;
    expect([...found.vertices]).deep.equal(
      [...result.character.sections[0]!.unweighted!.keys()].filter(
        (v) => result.character.sections[0]!.unweighted![v] === 1,
      ),
    );
    expect(found.vertices.length).equal(1);
  });

  it('name what has no name, and tell doubles apart', async () => {
    const result = await codes((builder) => {
      builder.json.nodes![1]!.name = 'upper';
      delete builder.json.nodes![0]!.name;
    });
    expect(result.codes.filter((code) => code === 'node-name')).length(2);
    expect(result.character.skeleton.names).deep.equal(['node 0', 'upper', 'upper (2)', 'strip']);
  });

  it('make smooth normals where there are none, across a seam too', async () => {
    const { character, codes: found } = await codes(() => {});
    expect(found).include('normals');
    const { normals } = character.sections[0]!;
    for (let v = 0; v < 6; v++) expect(Math.hypot(...normals.subarray(3 * v, 3 * v + 3))).closeTo(1, 1e-5);
  });

  it('note a character of an unlikely size', async () => {
    const { codes: found } = await codes((builder) => {
      builder.json.nodes![0]!.scale = [200, 200, 200];
    });
    expect(found).include('size');
  });
});

describe('reading OBJ', () => {
  it('cuts polygons, counts from either end, and makes a section for each material', async () => {
    const text = `# a folded sheet
o Cloak
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 2 0 0.5
v 2 1 0.5
vt 0 0
vt 1 0
vt 1 1
vt 0 1
usemtl wool
f 1/1 2/2 3/3 4/4
usemtl silk
f -5/2 -2/1 -1/4 \\
 -4/3
l 1 2
`;
    const { character, report } = await read(new TextEncoder().encode(text), 'cloak.obj');
    expect(character.sections.map((section) => section.name)).deep.equal(['Cloak / wool', 'Cloak / silk']);
    expect([...character.sections[0]!.triangles]).deep.equal([0, 1, 2, 0, 2, 3]);
    expect([...character.sections[1]!.positions]).deep.equal([1, 0, 0, 2, 0, 0.5, 2, 1, 0.5, 1, 1, 0]);
    expect([...character.sections[0]!.uvs!]).deep.equal([0, 1, 1, 1, 1, 0, 0, 0]);
    expect(report.decoded[0]).contain('2 polygons');
    expect(report.odd[0]!.code).equal('not-triangles');
  });
});
