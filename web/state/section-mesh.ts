import type { CheckedMesh } from '../../core/mesh/index.ts';
import type { Character, Section } from '../../core/rig/index.ts';
import { createSectionMesh } from '../../core/steps/index.ts';

const meshOfSection = new WeakMap<Section, CheckedMesh>();

/** Faces and points of a section, made once for each. */
export function getSectionMesh(character: Character, sectionIndex: number): CheckedMesh {
  const section = character.sections[sectionIndex]!;
  let mesh = meshOfSection.get(section);
  if (!mesh) {
    mesh = createSectionMesh(character, sectionIndex);
    meshOfSection.set(section, mesh);
  }
  return mesh;
}
