import { type Character, type FigureSize, measureFigure } from '../../core/rig/index.ts';

const known = new WeakMap<Character, FigureSize>();

/** How large a character is in bind pose: measured once, as every vertex is looked at. */
export function getFigure(character: Character): FigureSize {
  const figure = known.get(character) ?? measureFigure(character);
  known.set(character, figure);
  return figure;
}
