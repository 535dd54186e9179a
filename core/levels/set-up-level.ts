import type { AuthoredDocument } from '../document/index.ts';
import { type RunSetup, type SetUpOptions, setUpRun } from '../run/index.ts';
import type { LevelBand } from './level-bands.ts';
import { type LevelMeshes, placeLevels } from './level-meshes.ts';

/** A run in which all garments are at the level of one band. @param made - With the meshes of that band's levels. */
export function setUpLevel(
  document: AuthoredDocument,
  made: LevelMeshes,
  { levels }: Pick<LevelBand, 'levels'>,
  options: Omit<SetUpOptions, 'levels'> = {},
): RunSetup {
  return setUpRun(placeLevels(document, made, levels), made.character, { ...options, levels });
}
