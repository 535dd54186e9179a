import {
  compareSurfaces,
  listFaults,
  listUvSeams,
  mendSource,
  refuseTooDear,
  remesh,
} from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { resampleSection } from './resample-section.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { lengthField, tellCentimetres } from './step-fields.ts';

/** Creases sharper than this are kept: 50°. */
const SHARP_ANGLE = 0.87;

/**
 * Even triangles over the whole section; borders, creases and the seams of its UVs stay where they are.
 * @returns With what is wrong with it against the section as it was.
 * @throws {RangeError} When it would take too long.
 */
export function evenOut(
  character: Character,
  sectionIndex: number,
  edgeLength: number,
): { section: Section; faults: string[] } {
  const mesh = createSectionMesh(character, sectionIndex);
  const source = { positions: mesh.pointPositions, triangles: mesh.faces };
  refuseTooDear(source, edgeLength);
  const options = { edgeLength, borderDetail: 0.6, sharpAngle: SHARP_ANGLE, lines: listUvSeams(mesh) };
  const surface = remesh(source, options);
  const comparison = compareSurfaces(surface, mendSource(source).surface);
  return {
    section: resampleSection(character, [sectionIndex], surface),
    faults: listFaults(comparison, edgeLength),
  };
}

export const evenOutStep = defineStep({
  kind: 'evenOut',
  fields: { edgeLength: lengthField },
  describe: ({ edgeLength }) => `even out to ${tellCentimetres(edgeLength)}`,
  apply: (context, { edgeLength }) => {
    const { section, faults } = evenOut(context.character, context.sectionIndex, edgeLength);
    return { ...replaceOwn(context, section), faults };
  },
});
