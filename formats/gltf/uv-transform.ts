import type { Material, Primitive, TextureInfo } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import { readAccessor } from './read-accessor.ts';

/** How a material places its images on a mesh: which set of coordinates they go by, and where those come to lie. */
export interface UvTransform {
  set: number;
  /** u' = a u + c v + tu, v' = b u + d v + tv. */
  matrix: [a: number, b: number, c: number, d: number, tu: number, tv: number];
}

const IN_PLACE: UvTransform['matrix'] = [1, 0, 0, 1, 0, 0];

/**
 * The placement of a material's base colour, or of the first other image where it has none (`KHR_texture_transform`:
 * scaled, then turned, then moved). One that takes all to a line or a point is passed over.
 */
export function readUvTransform(material: Material | null): UvTransform {
  const info = material && listTextureInfos(material)[0];
  if (!info) return { set: 0, matrix: IN_PLACE };
  const transform = info.getExtension<Transform>('KHR_texture_transform');
  const set = transform?.getTexCoord() ?? info.getTexCoord();
  const [su, sv] = transform?.getScale() ?? [1, 1];
  if (!transform || su * sv === 0) return { set, matrix: IN_PLACE };
  const [cos, sin] = [Math.cos(transform.getRotation()), Math.sin(transform.getRotation())];
  const [tu, tv] = transform.getOffset();
  return { set, matrix: [cos * su, -sin * su, sin * sv, cos * sv, tu, tv] };
}

function listTextureInfos(material: Material): TextureInfo[] {
  return [
    material.getBaseColorTextureInfo(),
    material.getNormalTextureInfo(),
    material.getMetallicRoughnessTextureInfo(),
    material.getOcclusionTextureInfo(),
    material.getEmissiveTextureInfo(),
  ].filter((info) => info !== null);
}

/** Coordinates of a primitive as its images lie on it, [vertices, 2]; null when it has none. */
export function readUvs(primitive: Primitive): Float32Array | null {
  const { set, matrix } = readUvTransform(primitive.getMaterial());
  const accessor = primitive.getAttribute(`TEXCOORD_${set}`) ?? primitive.getAttribute('TEXCOORD_0');
  return accessor && placeUvs(readAccessor(accessor), matrix);
}

/** @param uvs - [vertices, 2] @returns New. */
export function placeUvs(uvs: Float32Array, [a, b, c, d, tu, tv]: UvTransform['matrix']): Float32Array {
  const placed = new Float32Array(uvs.length);
  for (let i = 0; i < uvs.length; i += 2) {
    placed[i] = a * uvs[i]! + c * uvs[i + 1]! + tu;
    placed[i + 1] = b * uvs[i]! + d * uvs[i + 1]! + tv;
  }
  return placed;
}

/** The placement that undoes another. */
export function invertUvMatrix([a, b, c, d, tu, tv]: UvTransform['matrix']): UvTransform['matrix'] {
  const area = a * d - b * c;
  return [d / area, -b / area, -c / area, a / area, (c * tv - d * tu) / area, (b * tu - a * tv) / area];
}
