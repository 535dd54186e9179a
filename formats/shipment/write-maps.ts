import type { Document } from '@gltf-transform/core';
import { type AuthoredDocument, findChannel, type GarmentRecord } from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import { CHANNELS, SHIPPED_KINDS } from '../../core/reach/index.ts';
import { type Character, findSection } from '../../core/rig/index.ts';
import type { ClothExtension } from './cloth-extension.ts';
import type { WrittenPrimitive } from './write-prepared.ts';

/** Writes the maps in use of a garment as attributes; without a max distance all is held. @returns The others' names. */
export function writeMaps(
  document: Document,
  character: Character,
  primitives: readonly WrittenPrimitive[],
  authored: AuthoredDocument,
  garment: GarmentRecord,
): ClothExtension['garments'][number]['maps'] {
  const index = findSection(character, garment);
  const section = character.sections[index];
  if (!section)
    throw new Error(
      `Garment "${garment.name}" is made of section "${garment.sectionName}", which the file lacks.`,
    );
  const { pointOfVertex, pointCount } = weldPoints(section.positions);
  const { primitive } = primitives[index]!;
  const maps: ClothExtension['garments'][number]['maps'] = {};
  for (const kind of SHIPPED_KINDS) {
    const { attribute } = CHANNELS[kind];
    const map = findChannel(authored, garment.id, kind);
    const held = kind === 'maxDistance' ? new Float32Array(pointCount) : undefined;
    const values = (map && authored.arrays.get(map.id)) ?? held;
    // What an earlier shipment left there is not ours any more.
    if (!values) primitive.setAttribute(attribute, null);
    if (!values) continue;
    if (values.length !== pointCount) {
      throw new Error(
        `Garment "${garment.name}" has ${pointCount} vertices, its map "${map?.name}" (${kind}) ${values.length} values.`,
      );
    }
    const perVertex = Float32Array.from(pointOfVertex, (point) => values[point]!);
    const accessor = document.createAccessor().setBuffer(document.getRoot().listBuffers()[0]!);
    primitive.setAttribute(attribute, accessor.setType('SCALAR').setArray(perVertex));
    if (kind !== 'maxDistance') maps[kind] = attribute;
  }
  return maps;
}
