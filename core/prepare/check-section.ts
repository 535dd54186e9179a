import { checkMesh, type HealthLimits, type MeshFinding } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createHealthInput } from '../steps/index.ts';
import { findSunk } from './find-sunk.ts';

/**
 * Everything that is wrong with the mesh of a section, worst first.
 * @param bodySections - What it must not lie in; without any that is not checked.
 * @param limits - Where they are not the standard ones.
 */
export function checkSection(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[] = [],
  limits: Partial<HealthLimits> = {},
): MeshFinding[] {
  const findings = checkMesh(createHealthInput(character, sectionIndex, limits));
  const sunk = findSunk(
    character,
    sectionIndex,
    bodySections.filter((index) => index !== sectionIndex),
  );
  const firstNote = findings.findIndex(({ severity }) => severity === 'note');
  if (sunk) findings.splice(firstNote < 0 ? findings.length : firstNote, 0, sunk);
  return findings;
}
