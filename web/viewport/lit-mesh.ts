import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  DynamicDrawUsage,
  FrontSide,
  LineBasicMaterial,
  LineSegments,
  type Material,
  type MeshLambertMaterialParameters,
} from 'three';
import type { Section } from '../../core/rig/index.ts';
import type { RenderLayout } from '../workers/preview-protocol.ts';

const WIRE = { color: '#23262D', transparent: true } as const;

/** An attribute that is written to each frame. */
export function createMoving(array: Float32Array, size = 3): BufferAttribute {
  const attribute = new BufferAttribute(array, size);
  attribute.setUsage(DynamicDrawUsage);
  return attribute;
}

/** Triangles and colours of a section, with vertices that the live run moves. */
export function createMovingGeometry({ positions, colors, uvs, triangles }: Section): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', createMoving(new Float32Array(positions.length)));
  geometry.setAttribute('normal', createMoving(new Float32Array(positions.length)));
  if (colors) geometry.setAttribute('color', new BufferAttribute(colors, 3));
  if (uvs) geometry.setAttribute('uv', new BufferAttribute(uvs, 2));
  geometry.setIndex(new BufferAttribute(triangles, 1));
  return geometry;
}

/** What a lit material of a section begins with. @param isTwoSided - Cloth always is. */
export function describeMaterial(section: Section, isTwoSided = true): MeshLambertMaterialParameters {
  return {
    color: new Color().setRGB(section.baseColor[0], section.baseColor[1], section.baseColor[2]),
    vertexColors: section.colors !== null,
    side: isTwoSided ? DoubleSide : FrontSide,
  };
}

/** Lines along edges of a geometry, hidden at first. @param edges - Pairs of its vertices. */
export function createWire(
  source: BufferGeometry,
  edges: Uint32Array,
  opacity = 0.3,
): LineSegments<BufferGeometry, LineBasicMaterial> {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', source.attributes.position!);
  geometry.setIndex(new BufferAttribute(edges, 1));
  const wire = new LineSegments(geometry, new LineBasicMaterial({ ...WIRE, opacity }));
  wire.frustumCulled = false;
  wire.visible = false;
  return wire;
}

/** Takes the vertices of a frame over. @param floats - Of the whole frame. */
export function takeVertices(
  { attributes }: BufferGeometry,
  floats: Float32Array,
  { positions, normals, vertexCount }: Pick<RenderLayout, 'positions' | 'normals' | 'vertexCount'>,
): void {
  const { position, normal } = attributes as Record<string, BufferAttribute>;
  (position!.array as Float32Array).set(floats.subarray(positions, positions + 3 * vertexCount));
  (normal!.array as Float32Array).set(floats.subarray(normals, normals + 3 * vertexCount));
  position!.needsUpdate = true;
  normal!.needsUpdate = true;
}

/** Draws a surface as one that is seen through, or as solid; what is mixed with what is behind it by its looks is so all the same. */
export function setSeeThrough(material: Material, isSeenThrough: boolean): void {
  const isTransparent = isSeenThrough || material.userData.isMixed === true;
  const opacity = isSeenThrough ? 0.24 : 1;
  if (material.transparent === isTransparent && material.opacity === opacity) return;
  material.transparent = isTransparent;
  material.opacity = opacity;
  material.depthWrite = !isSeenThrough;
  material.needsUpdate = true;
}

export function disposeDrawn(...drawn: readonly { geometry: BufferGeometry; material: Material }[]): void {
  for (const { geometry, material } of drawn) {
    geometry.dispose();
    material.dispose();
  }
}
