import { expect } from 'chai';
import { createRandom } from '../core/math/index.ts';
import { IntakeError } from './intake-error.ts';
import { readCharacter } from './read-character.ts';
import { createStrip, type GltfBuilder, packGlb } from './test-gltf.ts';

const ANYTHING = [-1, 0, 1, 2, 3, 0.5, 1e9, 99, '', 'x', null, [], {}, true, 5121, 5126, 'VEC2'];

/** Every part of a JSON, with what holds it. */
function listParts(value: object): [holder: Record<string, unknown>, part: string][] {
  return Object.entries(value).flatMap(([part, inner]: [string, unknown]) => [
    [value as Record<string, unknown>, part] as [Record<string, unknown>, string],
    ...(inner !== null && typeof inner === 'object' ? listParts(inner) : []),
  ]);
}

/** The strip with a morph, sparse data, an image that a material places, and a camera. */
function createDressedStrip(): GltfBuilder {
  const builder = createStrip();
  const { json } = builder;
  const primitive = json.meshes![0]!.primitives![0]!;
  primitive.material = 0;
  primitive.targets = [{ POSITION: builder.add('VEC3', new Float32Array(18)) }];
  primitive.attributes!.TEXCOORD_0 = builder.add('VEC2', new Float32Array(12));
  primitive.attributes!.COLOR_0 = builder.add('VEC3', new Float32Array(18));
  json.accessors![0]!.sparse = {
    count: 1,
    indices: { bufferView: builder.addView(Uint16Array.of(5)), componentType: 5123 },
    values: { bufferView: builder.addView(Float32Array.of(0, 1, 0)) },
  };
  json.extensionsUsed = ['KHR_texture_transform'];
  json.images = [{ bufferView: builder.addView(Uint8Array.of(1, 2, 3)), mimeType: 'image/png' }];
  json.samplers = [{ magFilter: 9729 }];
  json.textures = [{ source: 0, sampler: 0 }];
  const placed = {
    index: 0,
    texCoord: 0,
    extensions: { KHR_texture_transform: { offset: [0, 1], scale: [2, 2] } },
  };
  json.materials = [
    { name: 'Oak', normalTexture: { index: 0 }, pbrMetallicRoughness: { baseColorTexture: placed } },
  ];
  json.cameras = [{ type: 'perspective', perspective: { yfov: 1, znear: 0.1 } as object }];
  json.nodes![3]!.camera = 0;
  return builder;
}

describe('files of which any part was changed', () => {
  it('are read, or refused in words of our own; nothing is printed', async () => {
    const random = createRandom(7);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    const printed: unknown[] = [];
    const { warn, error, info } = console;
    Object.assign(console, { warn: note, error: note, info: note });
    function note(...words: unknown[]): void {
      printed.push(words);
    }
    const refusals = new Map<string, number>();
    try {
      for (let round = 0; round < 800; round++) {
        const builder = createDressedStrip();
        const json = builder.finish();
        const [holder, part] = pick(listParts(json));
        if (random() < 0.2) delete holder[part];
        else holder[part] = structuredClone(pick(ANYTHING));
        const what = JSON.stringify(json);
        await readCharacter([{ name: 'strip.glb', bytes: packGlb(json, builder.bytes) }]).catch(
          (reason: unknown) => {
            expect(reason, what).instanceOf(IntakeError);
            const { code, message } = reason as IntakeError;
            expect(message, what).not.match(
              /undefined|\[object|Cannot read|is not a function|not iterable|Offset is/,
            );
            refusals.set(code, (refusals.get(code) ?? 0) + 1);
          },
        );
      }
    } finally {
      Object.assign(console, { warn, error, info });
    }
    expect(printed).deep.equal([]);
    expect([...refusals.keys()]).include.members([
      'damaged-json',
      'bad-reference',
      'wrong-count',
      'out-of-bounds',
    ]);
  });
});
