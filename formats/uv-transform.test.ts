import { expect } from 'chai';
import { encode } from 'fast-png';
import { Matrix3, Vector2 } from 'three';
import { createDocument } from '../core/document/index.ts';
import { prepareCharacter } from '../core/prepare/index.ts';
import { addStep } from '../core/prepare/test-wardrobe.ts';
import { readCharacter, writeShipment } from './index.ts';
import { createStrip, type GltfBuilder } from './test-gltf.ts';

/** On the strip's six vertices. */
const UVS = [0, 0, 1, 0, 0, 0.5, 1, 0.5, 0, 1, 1, 1];

interface Placement {
  offset?: [number, number];
  rotation?: number;
  scale?: [number, number];
  texCoord?: number;
}

/** The strip with an image that is placed on it. */
function createPainted(
  uvs: Float32Array | Uint16Array,
  placement: Placement | null,
  isNormalised = false,
): GltfBuilder {
  const builder = createStrip();
  const { json } = builder;
  const primitive = json.meshes![0]!.primitives![0]!;
  primitive.attributes!.TEXCOORD_0 = builder.add('VEC2', uvs, isNormalised ? { normalized: true } : {});
  primitive.material = 0;
  const image = encode({ width: 1, height: 1, data: Uint8Array.of(255), channels: 1 });
  json.images = [{ bufferView: builder.addView(image), mimeType: 'image/png' }];
  json.textures = [{ source: 0 }];
  const transform = placement && { extensions: { KHR_texture_transform: placement } };
  const baseColorTexture = { index: 0, ...transform };
  json.materials = [{ pbrMetallicRoughness: { baseColorTexture } }];
  json.extensionsUsed = ['KHR_texture_transform', 'KHR_mesh_quantization'];
  return builder;
}

const read = (bytes: Uint8Array) => readCharacter([{ name: 'strip.glb', bytes }]);

async function readUvs(builder: GltfBuilder): Promise<number[]> {
  return [...(await read(builder.toGlb())).character.sections[0]!.uvs!];
}

function expectClose(found: readonly number[], expected: readonly number[], tolerance = 1e-6): void {
  expect(found.length).equal(expected.length);
  found.forEach((value, i) => {
    expect(value, `number ${i}`).closeTo(expected[i]!, tolerance);
  });
}

describe('texture coordinates that the material places', () => {
  it('fill the square again when they were packed into twelve of sixteen bits', async () => {
    const packed = Uint16Array.from(UVS, (value) => Math.round(4095 * value));
    const scale = 65535 / 4095;
    expectClose(await readUvs(createPainted(packed, { scale: [scale, scale] }, true)), UVS, 2e-4);
    expectClose(await readUvs(createPainted(packed, { scale: [1 / 4095, 1 / 4095] })), UVS, 2e-4);
    expectClose(await readUvs(createPainted(Float32Array.from(UVS), null)), UVS);
  });

  it('are moved and turned as three.js places the image', async () => {
    const placement = { offset: [0.3, -0.2], rotation: 0.7, scale: [0.5, 0.5] } as const;
    const three = new Matrix3().setUvTransform(0.3, -0.2, 0.5, 0.5, 0.7, 0, 0);
    const expected = [0, 1, 2, 3, 4, 5].flatMap((v) => {
      const place = new Vector2(UVS[2 * v], UVS[2 * v + 1]).applyMatrix3(three);
      return [place.x, place.y];
    });
    expectClose(await readUvs(createPainted(Float32Array.from(UVS), placement as Placement)), expected);
  });

  it('are scaled before they are turned', async () => {
    const quarter = { rotation: Math.PI / 2, scale: [2, 3] } as Placement;
    // (u, v) to (2 u, 3 v) to (3 v, -2 u).
    const expected = [0, 1, 2, 3, 4, 5].flatMap((v) => [3 * UVS[2 * v + 1]!, -2 * UVS[2 * v]!]);
    expectClose(await readUvs(createPainted(Float32Array.from(UVS), quarter)), expected);
  });

  it('are those of the set that the image goes by, and left as they are by a scale of nothing', async () => {
    const other = UVS.map((value) => 1 - value);
    const builder = createPainted(Float32Array.from(UVS), { texCoord: 1 });
    builder.json.meshes![0]!.primitives![0]!.attributes!.TEXCOORD_1 = builder.add(
      'VEC2',
      Float32Array.from(other),
    );
    expectClose(await readUvs(builder), other);
    expectClose(await readUvs(createPainted(Float32Array.from(UVS), { scale: [0, 1] })), UVS);
  });

  for (const texCoord of [0, 1]) {
    it(`come back the same from a shipment whose section was prepared, by set ${texCoord}`, async () => {
      const placement: Placement = { offset: [0.1, 0.2], rotation: -0.4, scale: [0.25, 0.5], texCoord };
      const builder = createPainted(Float32Array.from(UVS), placement);
      builder.json.meshes![0]!.primitives![0]!.attributes!.TEXCOORD_1 = builder.add(
        'VEC2',
        Float32Array.from(UVS, (value) => value / 2),
      );
      const bytes = builder.toGlb();
      const before = (await read(bytes)).character.sections[0]!;
      const authored = createDocument();
      addStep(authored, before.name, { kind: 'restInPose', clipName: 'bend' });
      const source = (await read(bytes)).character;
      expect(prepareCharacter(source, authored).character.sections[0]).not.equal(source.sections[0]);
      const shipped = await read(await writeShipment(await read(bytes), authored));
      const after = shipped.character.sections[0]!;
      expectClose([...after.uvs!], [...before.uvs!]);
      // What was not prepared is written as it came.
      const plain = await read(await writeShipment(await read(bytes), createDocument()));
      expect(plain.character.sections[0]!.uvs).deep.equal(before.uvs);
    });
  }
});
