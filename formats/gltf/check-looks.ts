import { IntakeError } from '../intake-error.ts';
import { checkReference } from './check-reference.ts';
import type { RawGltf, RawTextureInfo } from './raw-gltf.ts';

/**
 * Checks what materials, images and cameras refer to: the shape of a character does not need them, but it is shipped
 * with them.
 *
 * @throws {IntakeError} for the first thing that is wrong, by name and number.
 */
export function checkLooks(json: RawGltf, file: string): void {
  const refer = (index: unknown, list: unknown[] | undefined, kind: string, where: string): void =>
    checkReference(file, index, list, kind, where, true);
  json.images?.forEach(({ bufferView }, i) => {
    refer(bufferView, json.bufferViews, 'bufferView', `image ${i}`);
  });
  json.textures?.forEach(({ source, sampler }, i) => {
    refer(source, json.images, 'image', `texture ${i}`);
    refer(sampler, json.samplers, 'sampler', `texture ${i}`);
  });
  json.materials?.forEach((material, i) => {
    const where = `material ${i}${material.name ? ` "${material.name}"` : ''}`;
    const { pbrMetallicRoughness: metal, normalTexture, occlusionTexture, emissiveTexture } = material;
    const infos = [metal?.baseColorTexture, metal?.metallicRoughnessTexture];
    for (const info of [...infos, normalTexture, occlusionTexture, emissiveTexture]) {
      if (!info) continue;
      checkReference(file, info.index, json.textures, 'texture', where);
      checkPlacement(info, file, where);
    }
  });
  json.nodes?.forEach(({ camera }, i) => {
    refer(camera, json.cameras, 'camera', `node ${i}`);
  });
  json.cameras?.forEach((camera, i) => {
    if ((camera.type === 'perspective' || camera.type === 'orthographic') && camera[camera.type]) return;
    fail(file, `camera ${i}`, 'It is neither a perspective nor an orthographic one.');
  });
}

function checkPlacement({ texCoord, extensions }: RawTextureInfo, file: string, where: string): void {
  const placement = extensions?.KHR_texture_transform ?? {};
  const { offset = [0, 0], scale = [1, 1], rotation = 0 } = placement;
  const isPair = (value: unknown): boolean =>
    Array.isArray(value) && value.length === 2 && value.every(Number.isFinite);
  const sets = [texCoord, placement.texCoord].filter((set) => set !== undefined);
  if (isPair(offset) && isPair(scale) && Number.isFinite(rotation) && sets.every(Number.isInteger)) return;
  fail(file, where, 'The placement of its image is not made of numbers.');
}

function fail(file: string, where: string, found: string): never {
  throw new IntakeError('damaged-json', file, where, found, 'Export the file again with other materials.');
}
