import type { AuthoredDocument, GarmentRecord } from '../document/index.ts';
import type { Surface } from '../mesh/index.ts';
import { type Character, findSection, hashSection, type SectionName } from '../rig/index.ts';
import {
  addSimSection,
  collectOuterSurface,
  makeSimSurface,
  type SimSurfaceSettings,
} from '../steps/index.ts';
import { carryMaps } from './carry-maps.ts';

/** A character and what is authored for it, where a garment is simulated on another mesh. */
export interface Coarsened {
  character: Character;
  document: AuthoredDocument;
}

/** So many meshes are kept: a slider that is dragged makes many that nobody asks for again. */
const MOST_SURFACES = 64;

/** Meshes that were made before, by what they were made of: making one takes longer than all else. */
export class SurfaceCache {
  readonly #made = new Map<string, Surface>();

  find(
    character: Character,
    sectionIndices: readonly number[],
    settings: SimSurfaceSettings,
    make: () => Surface,
  ): Surface {
    const sections = sectionIndices.map((index) => hashSection(character.sections[index]!));
    const { edgeLength, borderDetail, sides } = settings;
    const key = [...sections, edgeLength, borderDetail, sides].join();
    const known = this.#made.get(key) ?? make();
    // The one that was not asked for longest goes first.
    this.#made.delete(key);
    this.#made.set(key, known);
    if (this.#made.size > MOST_SURFACES) this.#made.delete(this.#made.keys().next().value!);
    return known;
  }
}

/**
 * A garment on an even mesh of some edge length over what is drawn of it, with all its maps carried over; nothing that is given is changed.
 * The mesh is that of the step "sim mesh" with the same settings.
 *
 * @param character - Prepared. @param cache - Of meshes that were made before.
 * @throws {RangeError} When the garment has no section, or a mesh cannot be made of it.
 */
export function coarsenGarment(
  character: Character,
  document: AuthoredDocument,
  garment: GarmentRecord,
  settings: SimSurfaceSettings,
  cache = new SurfaceCache(),
): Coarsened {
  const drawn: readonly SectionName[] =
    garment.renders.length > 0
      ? garment.renders
      : [{ sectionIndex: garment.sectionIndex, sectionName: garment.sectionName }];
  const indices = drawn.map((section) => findSection(character, section));
  const before = findSection(character, garment);
  if (before < 0 || indices.some((index) => index < 0))
    throw new RangeError(`${garment.name} has lost its section: nothing can be simulated in its place.`);
  const surface = cache.find(character, indices, settings, () =>
    makeSimSurface(collectOuterSurface(character, indices, settings.sides), settings),
  );
  const { character: made, made: places } = addSimSection(character, indices, surface);
  const sectionIndex = places[0]!;
  const records = new Map(document.records);
  const arrays = new Map(document.arrays);
  const { name: sectionName } = made.sections[sectionIndex]!;
  records.set(garment.id, { ...garment, sectionIndex, sectionName, renders: drawn });
  const from = { character, sectionIndex: before };
  carryMaps(document, garment, { from, to: { character: made, sectionIndex } }, { records, arrays });
  return { character: made, document: { ...document, records, arrays } };
}
