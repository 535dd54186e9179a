import type { RawGltf } from './gltf/raw-gltf.ts';

/** Builds small glTF files by hand, so that tests can break them in any way. */
export class GltfBuilder {
  readonly json: RawGltf & { buffers: NonNullable<RawGltf['buffers']> } = {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [] }],
    nodes: [],
    meshes: [],
    skins: [],
    animations: [],
    accessors: [],
    bufferViews: [],
    buffers: [],
  };
  #bytes: number[] = [];

  /** @returns Index of the accessor. */
  add(
    type: string,
    array: Float32Array | Uint16Array | Uint8Array | Uint32Array | Int16Array,
    more: object = {},
  ): number {
    const kinds = new Map<unknown, number>([
      [Float32Array, 5126],
      [Uint32Array, 5125],
      [Uint16Array, 5123],
      [Int16Array, 5122],
      [Uint8Array, 5121],
    ]);
    const width = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT4: 16 }[type]!;
    const view = this.addView(array);
    this.json.accessors!.push({
      bufferView: view,
      componentType: kinds.get(array.constructor)!,
      count: array.length / width,
      type,
      ...more,
    });
    return this.json.accessors!.length - 1;
  }

  /** @returns Index of the buffer view. */
  addView(array: ArrayBufferView): number {
    while (this.#bytes.length % 4 !== 0) this.#bytes.push(0);
    const byteOffset = this.#bytes.length;
    this.#bytes.push(...new Uint8Array(array.buffer, array.byteOffset, array.byteLength));
    this.json.bufferViews!.push({ buffer: 0, byteOffset, byteLength: array.byteLength });
    return this.json.bufferViews!.length - 1;
  }

  get bytes(): Uint8Array {
    return Uint8Array.from(this.#bytes);
  }

  /** The JSON with its buffer described, without empty lists. */
  finish(): RawGltf {
    const json = structuredClone(this.json);
    json.buffers = [{ byteLength: this.#bytes.length, ...this.json.buffers[0] }];
    for (const [key, value] of Object.entries(json))
      if (Array.isArray(value) && value.length === 0) delete json[key as keyof RawGltf];
    return json;
  }

  toGlb(): Uint8Array {
    return packGlb(this.finish(), this.bytes);
  }
}

export function packGlb(json: object, binary: Uint8Array): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const pad = (length: number): number => (length + 3) & ~3;
  const glb = new Uint8Array(12 + 8 + pad(text.length) + 8 + pad(binary.length));
  const view = new DataView(glb.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, glb.length, true);
  view.setUint32(12, pad(text.length), true);
  view.setUint32(16, 0x4e4f534a, true);
  glb.fill(0x20, 20, 20 + pad(text.length));
  glb.set(text, 20);
  const at = 20 + pad(text.length);
  view.setUint32(at, pad(binary.length), true);
  view.setUint32(at + 4, 0x004e4942, true);
  glb.set(binary, at + 8);
  return glb;
}

export const IDENTITY = Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

/**
 * Two joints one above the other under a turned, scaled armature; a skinned strip of four triangles whose mesh node
 * hangs below one of its own joints; a clip that bends the upper joint.
 */
export function createStrip(): GltfBuilder {
  const builder = new GltfBuilder();
  const { json } = builder;
  const rows = [0, 0.5, 1];
  const positions = Float32Array.from(rows.flatMap((y) => [-0.2, y, 0.1 * y, 0.2, y, 0]));
  const indices = Uint16Array.of(0, 1, 2, 1, 3, 2, 2, 3, 4, 3, 5, 4);
  const joints = Uint8Array.from(rows.flatMap(() => [0, 1, 0, 0, 0, 1, 0, 0]));
  const weights = Float32Array.from(rows.flatMap((y) => [1 - y, y, 0, 0, 1 - y, y, 0, 0]));
  const inverseBinds = new Float32Array(32);
  inverseBinds.set(IDENTITY, 0);
  inverseBinds.set(IDENTITY, 16);
  inverseBinds[29] = -0.5;
  json.meshes!.push({
    name: 'Strip',
    primitives: [
      {
        attributes: {
          POSITION: builder.add('VEC3', positions, { min: [-0.2, 0, 0], max: [0.2, 1, 0.1] }),
          JOINTS_0: builder.add('VEC4', joints),
          WEIGHTS_0: builder.add('VEC4', weights),
        },
        indices: builder.add('SCALAR', indices),
      },
    ],
  });
  json.skins!.push({ joints: [1, 2], inverseBindMatrices: builder.add('MAT4', inverseBinds) });
  const half = Math.SQRT1_2;
  json.nodes!.push(
    {
      name: 'armature',
      children: [1],
      rotation: [-half, 0, 0, half],
      scale: [2, 2, 2],
      translation: [1, 0, 0],
    },
    { name: 'lower', children: [2] },
    { name: 'upper', children: [3], translation: [0, 0.5, 0] },
    { name: 'strip', mesh: 0, skin: 0, translation: [9, 9, 9] },
  );
  json.scenes![0]!.nodes!.push(0);
  json.animations!.push({
    name: 'bend',
    channels: [{ sampler: 0, target: { node: 2, path: 'rotation' } }],
    samplers: [
      {
        input: builder.add('SCALAR', Float32Array.of(0, 1, 2), { min: [0], max: [2] }),
        output: builder.add('VEC4', Float32Array.of(0, 0, 0, 1, 0, 0, half, half, half, 0, 0, half)),
      },
    ],
  });
  return builder;
}

/** The strip with UVs across and down, and a picture on it. @param png - Its bytes. @param sampler - How it is looked up, when not as usual. */
export function createCard(png: Uint8Array, alphaMode: string, sampler?: object): GltfBuilder {
  const builder = createStrip();
  const primitive = builder.json.meshes![0]!.primitives![0]!;
  primitive.attributes!.TEXCOORD_0 = builder.add(
    'VEC2',
    Float32Array.of(0, 0, 1, 0, 0, 0.5, 1, 0.5, 0, 1, 1, 1),
  );
  primitive.material = 0;
  Object.assign(builder.json, {
    images: [{ bufferView: builder.addView(png), mimeType: 'image/png' }],
    ...(sampler && { samplers: [sampler] }),
    textures: [{ source: 0, ...(sampler && { sampler: 0 }) }],
    materials: [
      {
        alphaMode,
        doubleSided: true,
        pbrMetallicRoughness: { baseColorTexture: { index: 0 }, metallicFactor: 0 },
      },
    ],
  });
  return builder;
}
