import { decodeDataUri, findCompanion } from '../companion.ts';
import type { RawGltf, RawMaterial, RawTextureInfo } from '../gltf/raw-gltf.ts';
import { readContainer } from '../gltf/read-container.ts';
import type { SourceFile } from '../source-file.ts';
import { type AlphaMode, type FoundLooks, PLAIN, type SectionLook, type Wrap } from './looks.ts';

const ALPHA: Readonly<Record<string, AlphaMode>> = { MASK: 'mask', BLEND: 'blend' };
const WRAPS: Readonly<Record<number, Wrap>> = { 33071: 'clamp', 33648: 'mirror' };

/** The looks of a glTF file that was read as a character before. */
export function readGltfLooks(main: SourceFile, others: readonly SourceFile[]): FoundLooks {
  const { json, binary } = readContainer(main);
  const notes = new Set<string>();
  const sections = (json.meshes ?? []).flatMap(({ primitives = [] }, meshIndex) =>
    primitives.flatMap(({ material }, primitiveIndex): SectionLook[] => {
      const raw = material === undefined ? undefined : json.materials?.[material];
      return raw ? [{ ...readMaterial(json, raw, notes), meshIndex, primitiveIndex }] : [];
    }),
  );
  const images = (json.images ?? []).map((image, index) => ({
    name: image.name || (image.uri?.startsWith('data:') ? '' : image.uri) || `image ${index}`,
    bytes: readImage(json, index, binary, others),
  }));
  return { sections, images, notes: [...notes] };
}

function readMaterial(
  json: RawGltf,
  raw: RawMaterial,
  notes: Set<string>,
): Omit<SectionLook, 'meshIndex' | 'primitiveIndex'> {
  const base = raw.pbrMetallicRoughness?.baseColorTexture;
  const name = raw.name || 'without a name';
  let normalInfo = raw.normalTexture;
  if (base && normalInfo && !liesAlike(base, normalInfo)) {
    notes.add(
      `The normals of the material "${name}" lie on other coordinates than its colours, and are not shown.`,
    );
    normalInfo = undefined;
  }
  const { normalTexture, alphaMode, alphaCutoff } = raw;
  return {
    ...PLAIN,
    materialName: raw.name ?? '',
    baseColor: findImage(json, base, name, notes),
    normal: findImage(json, normalInfo, name, notes),
    normalScale: normalTexture?.scale ?? 1,
    alpha: ALPHA[alphaMode ?? ''] ?? 'opaque',
    cutoff: alphaCutoff ?? 0.5,
    wrap: readWrap(json, base ?? normalInfo),
  };
}

/** Whether two images of a material are placed by the same coordinates. */
function liesAlike(one: RawTextureInfo, other: RawTextureInfo): boolean {
  const place = ({ texCoord = 0, extensions }: RawTextureInfo): string => {
    const {
      offset = [0, 0],
      scale = [1, 1],
      rotation = 0,
      texCoord: set = texCoord,
    } = extensions?.KHR_texture_transform ?? {};
    return JSON.stringify([set, offset, scale, rotation]);
  };
  return place(one) === place(other);
}

function findImage(
  json: RawGltf,
  info: RawTextureInfo | undefined,
  material: string,
  notes: Set<string>,
): number | null {
  const texture = info?.index === undefined ? undefined : json.textures?.[info.index];
  if (!texture) return null;
  const { EXT_texture_webp: webp, KHR_texture_basisu: basis } = (texture.extensions ?? {}) as Record<
    string,
    { source?: number } | undefined
  >;
  const source = webp?.source ?? texture.source;
  if (source === undefined && basis)
    notes.add(
      `An image of the material "${material}" is packed for graphics hardware (KTX2), and is not shown.`,
    );
  return source !== undefined && json.images?.[source] ? source : null;
}

function readWrap(json: RawGltf, info: RawTextureInfo | undefined): [Wrap, Wrap] {
  const sampler = info?.index === undefined ? undefined : json.textures?.[info.index]?.sampler;
  const { wrapS, wrapT } = (sampler === undefined ? {} : (json.samplers?.[sampler] ?? {})) as {
    wrapS?: number;
    wrapT?: number;
  };
  return [WRAPS[wrapS ?? 0] ?? 'repeat', WRAPS[wrapT ?? 0] ?? 'repeat'];
}

/** Bytes of an image as they are packed; null when they did not come along. */
function readImage(
  json: RawGltf,
  index: number,
  binary: Uint8Array | null,
  others: readonly SourceFile[],
): Uint8Array | null {
  const { uri, bufferView } = json.images![index]!;
  if (uri !== undefined) return readUri(uri, others);
  const view = bufferView === undefined ? undefined : json.bufferViews?.[bufferView];
  if (!view) return null;
  const buffer = json.buffers?.[view.buffer ?? 0];
  const bytes = buffer?.uri === undefined ? binary : readUri(buffer.uri, others);
  const from = view.byteOffset ?? 0;
  const to = from + (view.byteLength ?? 0);
  return bytes && to <= bytes.length ? bytes.subarray(from, to) : null;
}

function readUri(uri: string, others: readonly SourceFile[]): Uint8Array | null {
  return decodeDataUri(uri) ?? findCompanion(others, uri)?.bytes ?? null;
}
