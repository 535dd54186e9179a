import type { WindSettings } from '../cloth/index.ts';
import { type AuthoredDocument, getScene, listBodySections, type RecordId } from '../document/index.ts';
import { type Character, shapeCharacter } from '../rig/index.ts';
import { CharacterRun, type RunOptions } from './character-run.ts';
import { freeGarment } from './free-garment.ts';
import type { GarmentCache } from './garment-cache.ts';
import { type GarmentSetup, setUpGarments } from './garment-setup.ts';

/** All that a run, and what measures it, starts from. */
export interface RunSetup {
  /** In the shape that the scene names. */
  character: Character;
  garments: readonly GarmentSetup[];
  /** Sections that garments must stay out of. */
  bodySections: readonly number[];
  wind: WindSettings;
}

export interface SetUpOptions {
  /** What was compiled before; used again, added to, and trimmed. */
  cache?: GarmentCache;
  /** A garment that falls freely over the whole body, see `freeGarment`. */
  freedId?: RecordId | null;
}

export interface CreateRunOptions extends SetUpOptions, RunOptions {}

/** What is authored for a character, ready to run: the one way from a document to a run. */
export function setUpRun(
  document: AuthoredDocument,
  character: Character,
  { cache, freedId = null }: SetUpOptions = {},
): RunSetup {
  const scene = getScene(document);
  const shaped = shapeCharacter(character, scene.morphs);
  const bodySections = listBodySections(document, shaped);
  const garments = setUpGarments(shaped, document, cache).map((setup) =>
    setup.id === freedId ? freeGarment(setup, shaped, bodySections) : setup,
  );
  return { character: shaped, garments, bodySections, wind: scene };
}

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
