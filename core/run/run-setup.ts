import type { WindSettings } from '../cloth/index.ts';
import { type AuthoredDocument, getScene, listBodySections, type RecordId } from '../document/index.ts';
import { type Character, shapeCharacter } from '../rig/index.ts';
import { freeGarment } from './free-garment.ts';
import type { GarmentCache } from './garment-cache.ts';
import { type GarmentSetup, type LevelChoice, setUpGarments } from './garment-setup.ts';

/** All that a run, and what measures it, starts from. */
export interface RunSetup {
  /** In the shape that the scene names. */
  character: Character;
  /** The same without that shape, as bodies were made for it. */
  base: Character;
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
  /** Garments that are at a level of detail; default: all as they are. */
  levels?: LevelChoice;
}

/** What is authored for a character, ready to run: the one way from a document to a run. */
export function setUpRun(
  document: AuthoredDocument,
  character: Character,
  { cache, freedId = null, levels }: SetUpOptions = {},
): RunSetup {
  const scene = getScene(document);
  const shaped = shapeCharacter(character, scene.morphs);
  const bodySections = listBodySections(document, shaped);
  const garments = setUpGarments(shaped, document, { cache, base: character, levels }).map((setup) =>
    setup.id === freedId ? freeGarment(setup, shaped, bodySections) : setup,
  );
  return { character: shaped, base: character, garments, bodySections, wind: scene };
}
