import { type Character, type MorphValues, shapeCharacter } from '../rig/index.ts';
import { findSunk } from './find-sunk.ts';

/** How a garment sits on one shape of the body, in bind pose. */
export interface ShapeFit {
  /** Name of the morph target that stands at 1; null for the shape without any. */
  name: string | null;
  /** Points of the garment in the body. */
  sunk: number;
  /** m; 0 when none. */
  deepest: number;
}

/** The fit of a garment on the body without morph targets and at the extreme of each. @param bodySections - Without it. */
export function checkShapes(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
): ShapeFit[] {
  const names = new Set(
    bodySections.flatMap((index) => character.sections[index]!.morphs.map(({ name }) => name)),
  );
  if (names.size === 0) return [];
  const none: MorphValues = Object.fromEntries([...names].map((name) => [name, 0]));
  return [null, ...names].map((name): ShapeFit => {
    const shaped = shapeCharacter(character, name === null ? none : { ...none, [name]: 1 });
    const found = findSunk(shaped, sectionIndex, bodySections);
    return { name, sunk: found?.count ?? 0, deepest: found ? found.measured / 1000 : 0 };
  });
}
