import { KHRDracoMeshCompression } from '@gltf-transform/extensions';
import { expect } from 'chai';
import draco from 'draco3dgltf';
import { createDocument } from '../core/document/index.ts';
import type { Section } from '../core/rig/index.ts';
import { readContainer } from './gltf/read-container.ts';
import { validateGlb } from './gltf/validate-glb.ts';
import { getGltfIo, type IntakeError, readCharacter, writeShipment } from './index.ts';
import { createStrip, packGlb } from './test-gltf.ts';

describe('a file that is packed with Draco', () => {
  let packed: Uint8Array;
  const plain = createStrip().toGlb();

  before(async () => {
    const io = await getGltfIo();
    io.registerDependencies({ 'draco3d.encoder': await draco.createEncoderModule() });
    const document = await io.readBinary(plain);
    document
      .createExtension(KHRDracoMeshCompression)
      .setRequired(true)
      .setEncoderOptions({ method: KHRDracoMeshCompression.EncoderMethod.EDGEBREAKER });
    packed = await io.writeBinary(document);
  });

  it('is the same character, to the steps of its packing, and the report says so', async () => {
    const { json } = readContainer({ name: 'packed.glb', bytes: packed });
    expect(json.extensionsRequired).include('KHR_draco_mesh_compression');
    const { character, report } = await readCharacter([{ name: 'packed.glb', bytes: packed }]);
    const { character: before } = await readCharacter([{ name: 'plain.glb', bytes: plain }]);
    expect(report.decoded).deep.equal(['Draco packing']);
    const [after, expected] = [character.sections[0]!, before.sections[0]!];
    expect(after.triangles.length).equal(expected.triangles.length);
    // The packer puts vertices in an order of its own: each with its place and what the upper joint holds of it.
    const list = ({ positions, influences, jointIndices, jointWeights }: Section): string[] =>
      Array.from({ length: positions.length / 3 }, (_, v) => {
        let upper = 0;
        for (let i = influences * v; i < influences * (v + 1); i++)
          if (jointIndices[i] === 1) upper += jointWeights[i]!;
        const place = [...positions.subarray(3 * v, 3 * v + 3)].map((value) => Math.round(value * 100) || 0);
        return [...place, Math.round(50 * upper)].join(' ');
      }).sort();
    expect(list(after)).deep.equal(list(expected));
  });

  it('is shipped unpacked, and valid', async () => {
    const read = await readCharacter([{ name: 'packed.glb', bytes: packed }]);
    const shipped = await writeShipment(read, createDocument());
    expect((await validateGlb(shipped)).errors).equal(0);
    expect(readContainer({ name: 'shipped.glb', bytes: shipped }).json.extensionsUsed ?? []).not.include(
      'KHR_draco_mesh_compression',
    );
  });

  it('is refused in words when what is packed is damaged or not there', async () => {
    const { json, binary } = readContainer({ name: 'packed.glb', bytes: packed });
    const tell = async (bytes: Uint8Array): Promise<string> => {
      try {
        await readCharacter([{ name: 'packed.glb', bytes }]);
        return '';
      } catch (error) {
        const { where, found } = (error as IntakeError).toJSON();
        return `${where}: ${found}`;
      }
    };
    const extension = json.meshes![0]!.primitives![0]!.extensions!.KHR_draco_mesh_compression as {
      bufferView: number;
    };
    const { byteOffset = 0, byteLength = 0 } = json.bufferViews![extension.bufferView]!;
    const torn = binary!.slice();
    torn.fill(0xa5, byteOffset, byteOffset + byteLength);
    expect(await tell(packGlb(json, torn))).match(/could not be unpacked/);
    const lost = structuredClone(json);
    (
      lost.meshes![0]!.primitives![0]!.extensions!.KHR_draco_mesh_compression as { bufferView: number }
    ).bufferView = 99;
    expect(await tell(packGlb(lost, binary!))).match(/Draco.*bufferView 99/);
  });
});
