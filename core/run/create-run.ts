import type { AuthoredDocument } from '../document/index.ts';
import type { Character } from '../rig/index.ts';
import { CharacterRun, type RunOptions } from './character-run.ts';
import { type RunSetup, type SetUpOptions, setUpRun } from './run-setup.ts';

export interface CreateRunOptions extends SetUpOptions, RunOptions {}

/** A run of a set-up, in bind pose, with its wind. */
export function startRun({ character, garments, wind }: RunSetup, options: RunOptions = {}): CharacterRun {
  const run = new CharacterRun(character, garments, options);
  run.wind = wind;
  return run;
}

/** A run of what is authored for a character, in bind pose. @throws {Error} When a map does not fit its garment. */
export function createRun(
  document: AuthoredDocument,
  character: Character,
  options: CreateRunOptions = {},
): CharacterRun {
  return startRun(setUpRun(document, character, options), options);
}
