import { checkMesh, type MeshFinding } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createHealthInput } from './section-mesh.ts';

/** Everything that is wrong with the mesh of a section, worst first. */
export function checkSection(character: Character, sectionIndex: number): MeshFinding[] {
  return checkMesh(createHealthInput(character, sectionIndex));
}
